// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test } from "vitest";
import type { Section } from "../types";
import "../words/i18n";
import { SheetForm } from "./SheetForm";
import { type SheetSource, SheetSourceProvider } from "./source";

afterEach(cleanup);

const section: Section = { id: "rooms", title: "Rooms", repeat: { noun: "room" }, questions: [] };

test.each([
  [true, ""],
  [false, "Plant room"],
])("a room that is typed stays until it is kept: %s", async (kept, left) => {
  const source = {
    name: "S",
    sheet: { id: "s", version: 1, title: "S", sections: [section] },
    state: { sheet: "s@1", title: "S", answered: 0, total: 0, missing: [], blocks: [], alerts: [], sections: [{ index: 0 }], lines: [] },
    answers: {},
    copy: async () => kept,
  } as unknown as SheetSource;
  render(
    <SheetSourceProvider value={source}>
      <SheetForm />
    </SheetSourceProvider>,
  );
  const field = screen.getByRole<HTMLInputElement>("textbox", { name: "Next room" });
  await userEvent.type(field, "Plant room");
  await userEvent.click(screen.getByRole("button", { name: "Add a room" }));
  expect(field.value).toBe(left);
});
