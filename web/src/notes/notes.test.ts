import { expect, test } from "vitest";
import { isIn, piecesOf, placedOf, rewritten, withNote } from "./notes";

const first = { at: "step/data", text: "one" };
const second = { at: "number/se", text: "two", was: "0.57" };

test("a note is added, changed and taken away, and the others stay", () => {
  expect(withNote([first], undefined, second)).toEqual([first, second]);
  expect(withNote([first, second], 1, { at: "number/se", text: " three " })).toEqual([
    first,
    { at: "number/se", text: "three", was: "0.57" },
  ]);
  expect(withNote([first, second], 0, { at: "step/data", text: "  " })).toEqual([second]);
  expect(withNote([first], undefined, { at: "step/look", text: "" })).toEqual([first]);
});

test("a note stands at its step, or where the solution has placed it", () => {
  const placed = [{ ...second, step: "statistic" as const, about: "Standard error" }];
  expect(isIn("data", first, placed)).toBe(true);
  expect(isIn("look", first, placed)).toBe(false);
  expect(isIn("statistic", second, placed)).toBe(true);
  expect(isIn("statistic", second, undefined)).toBe(false);
  expect(placedOf(placed, second)?.about).toBe("Standard error");
});

test("a note at a number remembers how it stands as it is written", () => {
  const quantities = new Map([["se", { display: "0.61" }]]);
  expect(rewritten(second, quantities)).toEqual({ ...second, was: "0.61" });
  expect(rewritten({ at: "number/gone", text: "x", was: "1" }, quantities).was).toBe("1");
  expect(rewritten(first, quantities)).toBe(first);
});

test("formulas stand between dollar signs; one alone is a dollar", () => {
  expect(piecesOf("from $a+b$ on")).toEqual([{ words: "from " }, { tex: "a+b" }, { words: " on" }]);
  expect(piecesOf("it costs 5 $")).toEqual([{ words: "it costs 5 $" }]);
  expect(piecesOf("$x$")).toEqual([{ tex: "x" }]);
});
