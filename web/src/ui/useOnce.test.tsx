// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { useOnce } from "./useOnce";

afterEach(cleanup);

function Press({ does }: { does: () => Promise<void> }) {
  const once = useOnce(does);
  return (
    <button type="button" onClick={() => once()}>
      Do it
    </button>
  );
}

it("does nothing on a second press while the first is under way, and does it again afterwards, also when it failed", async () => {
  const ends: ((ok: boolean) => void)[] = [];
  const does = () => new Promise<void>((done, fail) => ends.push((ok) => (ok ? done() : fail(new Error("no"))))).catch(() => {});
  render(<Press does={does} />);
  const press = () => fireEvent.click(screen.getByRole("button"));
  press();
  press();
  expect(ends.length).toBe(1);
  ends[0](false);
  await Promise.resolve();
  await new Promise((done) => setTimeout(done));
  press();
  expect(ends.length).toBe(2);
});
