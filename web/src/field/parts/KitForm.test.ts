import { expect, it } from "vitest";
import { times } from "./KitForm";

it.each([
  ["1", 3, "3"],
  ["0.25", 3, "0.75"],
  ["3.5", 2, "7.0"],
  ["0.1", 30, "3.0"],
  ["0.001", 1, "0.001"],
])("%s times %i", (quantity, n, want) => expect(times(quantity, n)).toBe(want));
