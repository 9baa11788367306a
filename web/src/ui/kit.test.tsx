// @vitest-environment jsdom
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import "../words/i18n";
import { Confirm } from "./Confirm";
import { type Column, DataList } from "./DataList";
import { Pressed } from "./Pressed";
import { SideDrawer } from "./SideDrawer";

// A grid shows the lines that fit on the screen, and jsdom has none.
beforeAll(() => {
  for (const side of ["clientWidth", "offsetWidth"]) Object.defineProperty(HTMLElement.prototype, side, { configurable: true, value: 1000 });
  for (const side of ["clientHeight", "offsetHeight"]) Object.defineProperty(HTMLElement.prototype, side, { configurable: true, value: 600 });
  const sizes = { x: 0, y: 0, top: 0, left: 0, right: 1000, bottom: 600, width: 1000, height: 600 };
  HTMLElement.prototype.getBoundingClientRect = () => ({ ...sizes, toJSON: () => sizes });
  globalThis.ResizeObserver = class {
    private readonly told: ResizeObserverCallback;
    constructor(told: ResizeObserverCallback) {
      this.told = told;
    }
    observe(target: Element) {
      this.told([{ target, contentRect: sizes } as unknown as ResizeObserverEntry], this);
    }
    unobserve() {}
    disconnect() {}
  };
});
afterEach(cleanup);

describe("a question before something is done", () => {
  it("does it, or leaves all as it is", async () => {
    const user = userEvent.setup();
    const [onAct, onClose] = [vi.fn(), vi.fn()];
    render(<Confirm title="End the access?" text="It wipes the device." act="End access" onAct={onAct} onClose={onClose} />);
    const dialog = screen.getByRole("dialog", { name: "End the access?" });
    expect(dialog.textContent).toContain("It wipes the device.");
    await user.keyboard("{Escape}");
    expect([onAct.mock.calls.length, onClose.mock.calls.length]).toEqual([0, 1]);
    await user.click(screen.getByRole("button", { name: "End access" }));
    expect(onAct).toHaveBeenCalledOnce();
  });
});

describe("a drawer", () => {
  it("has a name, and says that what is typed stays", async () => {
    const user = userEvent.setup();
    const [onClose, clear] = [vi.fn(), vi.fn()];
    render(
      <SideDrawer title="Ball valve" draft={{ begun: true, clear }} onClose={onClose}>
        <p>2 left</p>
      </SideDrawer>,
    );
    expect(screen.getByRole("dialog", { name: "Ball valve" }).textContent).toContain("2 left");
    await user.click(screen.getByRole("button", { name: "Close, keep what is typed" }));
    expect([onClose.mock.calls.length, clear.mock.calls.length]).toEqual([1, 0]);
  });
});

describe("pressed buttons", () => {
  it("say which is chosen", async () => {
    const user = userEvent.setup();
    const onChoose = vi.fn();
    const choices = [
      ["a", "This week"],
      ["b", "Last week"],
    ] as const;
    render(<Pressed label="Days" choices={choices} chosen="a" onChoose={onChoose} />);
    const pressed = () => screen.getAllByRole("button").map((b) => b.getAttribute("aria-pressed"));
    expect(pressed()).toEqual(["true", "false"]);
    await user.click(screen.getByRole("button", { name: "Last week" }));
    expect(onChoose).toHaveBeenCalledWith("b");
  });
});

interface Line {
  id: string;
  name: string;
  left: number;
}
const columns: Column<Line>[] = [
  { id: "name", title: "Name", value: (l) => l.name },
  { id: "left", title: "Left", number: true, value: (l) => l.left, show: (l) => `${l.left} m` },
];

function Lines({ lines }: { lines: Line[] }) {
  const [picked, setPicked] = useState<string[]>([]);
  return (
    <>
      <DataList
        label="Parts"
        lines={lines}
        idOf={(l) => l.id}
        columns={columns}
        empty="No part"
        picked={picked}
        onPick={setPicked}
        mayPick={(l) => l.left > 0}
      />
      <output>{picked.join()}</output>
    </>
  );
}

const some = (count: number): Line[] => Array.from({ length: count }, (_, i) => ({ id: `l${i}`, name: `Part ${i}`, left: (i * 7) % 10 }));
const first = () => screen.getAllByRole("row")[1].textContent;

describe("a list", () => {
  it("says that there is nothing", () => {
    render(<Lines lines={[]} />);
    expect(screen.getByText("No part")).toBeTruthy();
  });
  it("is sorted by what a column has, not by its words", async () => {
    const user = userEvent.setup();
    render(<Lines lines={some(4).map((l, i) => ({ ...l, left: [9, 100, 20, 3][i] }))} />);
    await user.click(screen.getByRole("columnheader", { name: /Left/ }));
    await waitFor(() => expect(first()).toContain("3 m"));
    await user.click(screen.getByRole("columnheader", { name: /Left/ }));
    await waitFor(() => expect(first()).toContain("100 m"));
  });
  it("says how many there are when not all are on the page", () => {
    render(<Lines lines={some(250)} />);
    expect(screen.getByText("1–100 of 250")).toBeTruthy();
  });
  it("picks what may be picked, and keeps it while others are looked for", async () => {
    const user = userEvent.setup();
    const view = render(<Lines lines={some(3)} />);
    const boxes = screen.getAllByRole<HTMLInputElement>("checkbox").slice(1);
    expect(boxes.map((b) => b.disabled)).toEqual([true, false, false]);
    await user.click(boxes[1]);
    expect(screen.getByRole("status").textContent).toBe("l1");
    view.rerender(<Lines lines={some(3).slice(2)} />);
    await user.click(screen.getAllByRole("checkbox").slice(-1)[0]);
    expect(screen.getByRole("status").textContent).toBe("l1,l2");
  });
});
