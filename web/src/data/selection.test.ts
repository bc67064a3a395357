import { describe, expect, test } from "vitest";
import { column, setOf } from "./fixture";
import { rowsIn, type Selection, textOf, type View, withEachCell, withLines } from "./selection";
import { cellsOf, type Sheet, sheetOf } from "./sheet";

const sheet = sheetOf(
  setOf(
    column(1, "pier", ["Quarry", "Mole", "Lantern"]),
    column(2, "minutes", ["3", "1", "2"]),
    column(3, "hours", [], { formula: "minutes / 60" }),
  ),
);
const derived = new Map([[3, ["0.05", "0.017", "0.033"]]]);
const asEntered: View = { filled: 3 };
/** Sorted by the minutes: Mole, Lantern, Quarry. */
const sorted: View = { filled: 3, order: Int32Array.from([1, 2, 0]) };

const from = (row: number, column: number) => ({
  to: (toRow: number, toColumn: number, whole?: Selection["whole"]): Selection => ({
    anchor: { row, column },
    head: { row: toRow, column: toColumn },
    whole,
  }),
});
const cells = (of: Sheet) => of.columns.map(cellsOf);

describe("a selection as text", () => {
  test.each<[string, Selection, View, string]>([
    ["as entered", from(0, 0).to(1, 1), asEntered, "Quarry\t3\nMole\t1"],
    ["backwards", from(1, 1).to(0, 0), asEntered, "Quarry\t3\nMole\t1"],
    ["in the order that is seen", from(0, 0).to(1, 1), sorted, "Mole\t1\nLantern\t2"],
    ["with derived cells", from(2, 1).to(2, 2), asEntered, "2\t0.033"],
    ["a whole column as far as it is filled", from(0, 1).to(2, 1, "columns"), sorted, "1\n2\n3"],
    ["blank rows as blank lines", from(2, 0).to(4, 0), asEntered, "Lantern\n\n"],
  ])("%s", (_, selection, view, want) => {
    expect(textOf(sheet, derived, selection, view)).toBe(want);
  });
});

describe("each cell of a selection", () => {
  test("is set in the rows that are seen, and none of a derived column", () => {
    const changed = withEachCell(sheet, from(0, 1).to(1, 2), sorted, (at) => `column ${at}`);
    expect(cells(changed)).toEqual([["Quarry", "Mole", "Lantern"], ["3", "column 1", "column 1"], []]);
    expect(changed.columns[0]).toBe(sheet.columns[0]);
  });

  test("of a whole column ends with what is filled", () => {
    const changed = withEachCell(sheet, from(0, 0).to(2, 0, "columns"), asEntered, () => "");
    expect(cells(changed)[0]).toEqual(["", "", ""]);
  });
});

test("lines are laid over the rows that are seen, and over blank ones below", () => {
  expect(
    cells(withLines(sheet, { row: 1, column: 0 }, [["a", "9"], ["b"], ["c", "8", "7"]], sorted)).slice(0, 2),
  ).toEqual([
    ["b", "Mole", "a", "c"],
    ["", "1", "9", "8"],
  ]);
});

test.each<[Selection, View, number[]]>([
  [from(0, 0).to(1, 0), asEntered, [0, 1]],
  [from(0, 0).to(1, 0), sorted, [1, 2]],
  [from(2, 0).to(9, 0, "rows"), sorted, [0]], // blank rows are none
  [from(7, 0).to(9, 0, "rows"), asEntered, []],
])("rows of %j", (selection, view, want) => {
  expect([...rowsIn(selection, view)]).toEqual(want);
});
