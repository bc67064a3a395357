import { expect, test } from "vitest";
import { type Side, sideOf, weightsOf } from "./contrast";

const sides = (given: Record<string, Side>) => new Map(Object.entries(given));

test("the weights of each side add up to one", () => {
  expect(weightsOf(sides({ Mole: -1, Quarry: -1, Lantern: 1, Saltgate: 0 }))).toEqual({
    Mole: -0.5,
    Quarry: -0.5,
    Lantern: 1,
  });
  expect(weightsOf(sides({ Mole: 1, Quarry: -1 }))).toEqual({ Mole: 1, Quarry: -1 });
});

test("a contrast needs a group on each side", () => {
  expect(weightsOf(sides({ Mole: 1, Quarry: 0 }))).toBeNull();
  expect(weightsOf(sides({ Mole: 1, Quarry: 1 }))).toBeNull();
  expect(weightsOf(sides({}))).toBeNull();
});

test("a group stands on the side of its weight", () => {
  const weighing = (weight: number | null) => sideOf({ code: "a", label: "a", weight });
  expect([weighing(0.5), weighing(0), weighing(-2), weighing(null)]).toEqual([1, 0, -1, 0]);
});
