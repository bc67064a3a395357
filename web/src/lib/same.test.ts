import { expect, test } from "vitest";
import { same } from "./same";

test.each<[unknown, unknown, boolean]>([
  [{ response: "fuel", predictor: "minutes" }, { predictor: "minutes", response: "fuel" }, true],
  [{ a: [{ b: 1, c: 2 }] }, { a: [{ c: 2, b: 1 }] }, true],
  [undefined, null, true],
  [["Mole", "Quarry"], ["Quarry", "Mole"], false],
  [1, "1", false],
  [null, 0, false],
  [{ a: 1 }, { a: 1, b: 2 }, false],
])("%j and %j", (a, b, want) => {
  expect(same(a, b)).toBe(want);
});
