// @vitest-environment jsdom
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Drafts, DraftsProvider } from "../draft/draft";
import "../words/i18n";
import { DateField, TimeField } from "./dates";
import { ChoiceInput, NumberInput, SaveButton, TextInput } from "./fields";
import { Form, useKeptForm } from "./form";

afterEach(cleanup);

const blank = { quantity: "", why: "", way: "a" };
type Values = typeof blank;

function Sample({ onSave, name = "sample", begin = blank }: { onSave: (v: Values, saved: () => void) => void; name?: string; begin?: Values }) {
  const form = useKeptForm<Values>(name, begin);
  return (
    <Form form={form} onSave={onSave}>
      <NumberInput name="quantity" label="Quantity" kind="positive" required />
      <TextInput name="why" label="Why" />
      <ChoiceInput
        name="way"
        label="Way"
        choices={[
          ["a", "By road"],
          ["b", "By sea"],
        ]}
      />
      <SaveButton>Save</SaveButton>
      {form.begun && <p>begun</p>}
    </Form>
  );
}

function show(drafts: Drafts, onSave = vi.fn(), begin?: Values) {
  const shown = (b?: Values) => (
    <DraftsProvider drafts={drafts}>
      <Sample onSave={onSave} begin={b} />
    </DraftsProvider>
  );
  const view = render(shown(begin));
  return { onSave, close: view.unmount, beginWith: (b: Values) => view.rerender(shown(b)) };
}

const typed = (label: string) => screen.getByLabelText<HTMLInputElement>(label).value;
const save = () => screen.getByRole<HTMLButtonElement>("button", { name: "Save" });

describe("a form", () => {
  it("says under the field what is wrong, and saves only what is right", async () => {
    const user = userEvent.setup();
    const { onSave } = show(new Drafts());
    expect(save().disabled).toBe(true);
    expect(screen.queryByText(/above 0/)).toBeNull();
    await user.type(screen.getByLabelText("Quantity"), "0");
    await screen.findByText(/above 0/);
    expect(save().disabled).toBe(true);
    await user.type(screen.getByLabelText("Quantity"), ",5");
    await waitFor(() => expect(save().disabled).toBe(false));
    await user.click(save());
    await waitFor(() => expect(onSave).toHaveBeenCalledOnce());
    expect(onSave.mock.calls[0][0]).toEqual({ quantity: "0,5", why: "", way: "a" });
  });

  it("keeps what is typed until it is saved, whatever is closed meanwhile", async () => {
    const user = userEvent.setup();
    const drafts = new Drafts();
    const first = show(drafts);
    await user.type(screen.getByLabelText("Quantity"), "3");
    await user.type(screen.getByLabelText("Why"), "split");
    first.close();
    const { onSave } = show(drafts);
    expect(typed("Quantity")).toBe("3");
    expect(typed("Why")).toBe("split");
    await waitFor(() => expect(save().disabled).toBe(false));
    await user.click(save()); // refused, or not answered: nothing says that it was saved
    await waitFor(() => expect(onSave).toHaveBeenCalled());
    expect(typed("Why")).toBe("split");
    onSave.mock.calls[0][1]();
    await waitFor(() => expect(typed("Why")).toBe(""));
    expect(screen.queryByText("begun")).toBeNull();
    expect(drafts.get("sample")).toBeUndefined();
  });

  it("follows the record it begins with, but not over what is typed", async () => {
    const user = userEvent.setup();
    const { beginWith } = show(new Drafts(), undefined, { ...blank, why: "old" });
    beginWith({ ...blank, why: "new" });
    await waitFor(() => expect(typed("Why")).toBe("new"));
    await user.type(screen.getByLabelText("Why"), "er");
    beginWith({ ...blank, why: "somebody else's" });
    expect(typed("Why")).toBe("newer");
  });
});

function Picked({ first, time }: { first: string; time?: boolean }) {
  const [value, set] = useState(first);
  const Field = time ? TimeField : DateField;
  return (
    <>
      <Field label="When" value={value} onChange={set} />
      <output>{value || "none"}</output>
      <button type="button" onClick={() => set(first)}>
        As before
      </button>
    </>
  );
}

describe("dates and times", () => {
  const value = () => screen.getByRole("status").textContent;
  const part = (name: string) => screen.getByRole("spinbutton", { name });

  it("are typed as the company writes them", async () => {
    const user = userEvent.setup();
    render(<Picked first="2026-03-10" />);
    expect(part("Day").textContent).toBe("10");
    await user.click(part("Day"));
    await user.keyboard("29112");
    expect(value(), "the second year is the third millennium, half typed").toBe("none");
    await user.keyboard("027");
    expect(value()).toBe("2027-11-29");
    await user.click(screen.getByRole("button", { name: "As before" }));
    expect(part("Year").textContent).toBe("2026");
  });
  it("are none while they are half typed, and nothing typed goes", async () => {
    const user = userEvent.setup();
    render(<Picked first="" />);
    await user.click(part("Day"));
    await user.keyboard("31");
    expect(value()).toBe("none");
    expect(part("Day").textContent).toBe("31");
    await user.keyboard("022026");
    expect(value()).toBe("none");
    await user.click(part("Month"));
    await user.keyboard("03");
    expect(value()).toBe("2026-03-31");
  });
  it("have 24 hours", async () => {
    const user = userEvent.setup();
    render(<Picked first="07:05" time />);
    await user.click(part("Hours"));
    await user.keyboard("2340");
    expect(value()).toBe("23:40");
  });
});
