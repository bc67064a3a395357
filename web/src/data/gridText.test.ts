import { describe, expect, test } from "vitest";
import { column, setOf } from "./fixture";
import { edgeOf, moveOf, shownText } from "./gridText";
import { type Place, rangeOf } from "./selection";
import { type SheetColumn, sheetOf } from "./sheet";
import { sortedRows } from "./sort";

const sheet = sheetOf(
  setOf(
    column(1, "pier", ["Quarry", "", "Mole", "Mole 10", "Mole 9"]),
    column(2, "minutes", ["10", "9,5", "x", "", "−2"]),
  ),
);
const none = new Map<number, string[]>();

describe("sortedRows", () => {
  const order = (key: number, down: boolean) => [...(sortedRows(sheet, none, { key, down }, 5) ?? [])];
  test("numbers by size, words after them, blanks last", () => {
    expect(order(2, false)).toEqual([4, 1, 0, 2, 3]);
    expect(order(2, true)).toEqual([2, 0, 1, 4, 3]);
  });
  test("words by the alphabet, numbers in them by size", () => {
    expect(order(1, false)).toEqual([2, 4, 3, 0, 1]);
  });
  test("a column that is gone sorts nothing", () => {
    expect(sortedRows(sheet, none, { key: 9, down: false }, 5)).toBeUndefined();
  });
  test("derived cells are sorted by what they hold", () => {
    const derived = sheetOf({ ...sheet, columns: [{ ...column(3, "rank", []), formula: "rank(minutes)" }] });
    const held = new Map([[3, ["3", "1", "2"]]]);
    expect([...(sortedRows(derived, held, { key: 3, down: false }, 3) ?? [])]).toEqual([1, 2, 0]);
  });
});

describe("edgeOf", () => {
  const edge = (row: number, at: number, key: string) => edgeOf(sheet, none, { row, column: at }, key, 5, (r) => r);
  test("goes to the end of a run", () => {
    expect(edge(2, 0, "ArrowDown")).toEqual({ row: 4, column: 0 });
    expect(edge(0, 0, "ArrowRight")).toEqual({ row: 0, column: 1 });
  });
  test("goes over a gap to the next that is filled", () => {
    expect(edge(0, 0, "ArrowDown")).toEqual({ row: 2, column: 0 });
    expect(edge(4, 1, "ArrowUp")).toEqual({ row: 2, column: 1 });
  });
  test("stays at the border", () => {
    expect(edge(0, 0, "ArrowUp")).toEqual({ row: 0, column: 0 });
  });
});

describe("shownText", () => {
  const of = (fields: Partial<SheetColumn>): SheetColumn =>
    ({ ...column(1, "x", []), blocks: [], ...fields }) as SheetColumn;
  test.each([
    [of({ decimals: 1 }), "12.345", "12.3"],
    [of({ decimals: 2 }), "-3", "−3.00"],
    [of({ decimals: 1 }), "n/a", "n/a"],
    [of({}), "12.345", "12.345"],
  ])("of a number %#", (column, text, want) => {
    expect(shownText(column, "number", text)).toBe(want);
  });
  test("of a code with a name", () => {
    expect(shownText(of({ level_names: { "1": "Mole" } }), "category", "1")).toBe("1 · Mole");
    expect(shownText(of({ level_names: { "1": "Mole" } }), "category", "2")).toBe("2");
  });
});

test("a selection may begin at any corner", () => {
  expect(rangeOf({ anchor: { row: 5, column: 0 }, head: { row: 2, column: 3 } })).toEqual({
    top: 2,
    bottom: 5,
    left: 0,
    right: 3,
  });
});

test.each<[string, Place, Place | undefined, Place]>([
  ["Enter without a Tab before it goes down", { row: 2, column: 1 }, undefined, { row: 1, column: 0 }],
  [
    "Enter after Tabs goes on below where the row was begun",
    { row: 2, column: 3 },
    { row: 2, column: 1 },
    { row: 1, column: -2 },
  ],
  ["but not where the Tabs were in another row", { row: 2, column: 3 }, { row: 1, column: 0 }, { row: 1, column: 0 }],
])("%s", (_, active, begun, want) => {
  const event = { key: "Enter", shiftKey: false } as React.KeyboardEvent;
  expect(moveOf(event, { value: "" } as HTMLInputElement, false, 10, 5, active, begun)).toEqual(want);
});
