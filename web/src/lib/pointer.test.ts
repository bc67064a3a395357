import { expect, test } from "vitest";
import { pointerTo, stepsOf, valueAt, withValue } from "./pointer";

test.each([
  [["options", "references", "ferry"], "/options/references/ferry"],
  [["a/b", "c~d"], "/a~1b/c~0d"],
  [["~1"], "/~01"], // the tilde first, or a slash would come out
  [[], ""],
])("%s as a pointer, and back", (steps, pointer) => {
  expect(pointerTo(...steps)).toBe(pointer);
  expect(stepsOf(pointer)).toEqual(steps);
});

const tree = { alpha: 0.05, options: { "a/b": [1, 2] }, leave_out: [] };

test.each([
  ["", tree],
  ["/alpha", 0.05],
  ["/options/a~1b/1", 2],
  ["/options/a~1b/2", null],
  ["/alpha/beta", null],
  ["/decimals", null],
  ["/options/toString", null],
])("the value at %s", (pointer, want) => {
  expect(valueAt(tree, pointer)).toEqual(want);
});

test.each([
  ["/alpha", 0.01, { ...tree, alpha: 0.01 }],
  ["/alpha", null, { options: tree.options, leave_out: [] }],
  ["/decimals", null, tree],
  ["/options/references/ferry", "Gull", { ...tree, options: { ...tree.options, references: { ferry: "Gull" } } }],
  ["/options/a~1b/-", 3, { ...tree, options: { "a/b": [1, 2, 3] } }],
  ["/options/a~1b/0", null, { ...tree, options: { "a/b": [2] } }],
  ["/options/a~1b/1", 5, { ...tree, options: { "a/b": [1, 5] } }],
  ["/leave_out/-", { case: 3 }, { ...tree, leave_out: [{ case: 3 }] }],
  ["/predict_at/-", [1], { ...tree, predict_at: [[1]] }],
])("%s set to %j", (pointer, value, want) => {
  const before = structuredClone(tree);
  expect(withValue(tree, pointer, value)).toEqual(want);
  expect(tree).toEqual(before);
});
