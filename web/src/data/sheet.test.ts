import { describe, expect, test } from "vitest";
import { column, setOf } from "./fixture";
import {
  alike,
  asNumber,
  cellAt,
  cellsOf,
  freeName,
  patchOf,
  rowsOf,
  type Sheet,
  setColumn,
  sheetOf,
  withBlock,
  withCells,
  withColumn,
  withoutRows,
  withRows,
} from "./sheet";

const long = Array.from({ length: 10_000 }, (_, i) => String(i));
const cells = (sheet: Sheet, at: number) => {
  const of = sheet.columns[at];
  return of ? cellsOf(of) : [];
};

test("a sheet holds what the data set held", () => {
  const sheet = sheetOf(setOf(column(1, "n", long), column(2, "double", ["2"], { formula: "2 * n" })));
  expect(cells(sheet, 0)).toEqual(long);
  expect(cellAt(sheet.columns[0], 4096)).toBe("4096");
  expect(cellAt(sheet.columns[0], 20_000)).toBe("");
  expect(cells(sheet, 1)).toEqual([]); // derived cells are the server's to know
  expect(rowsOf(sheet)).toBe(10_000);
});

describe("withCells", () => {
  test("shares the blocks that stay as they are", () => {
    const before = sheetOf(setOf(column(1, "n", long))).columns[0];
    if (!before) throw new Error("no column");
    const after = withCells(before, 4095, ["a", "b"]);
    expect(after.blocks[2]).toBe(before.blocks[2]);
    expect(after.blocks[0]).not.toBe(before.blocks[0]);
    expect([4094, 4095, 4096, 4097].map((row) => cellAt(after, row))).toEqual(["4094", "a", "b", "4097"]);
    expect(cellAt(before, 4095)).toBe("4095");
  });
  test("grows past the end", () => {
    const empty = sheetOf(setOf(column(1, "n", []))).columns[0];
    if (!empty) throw new Error("no column");
    const after = withCells(empty, 5000, ["x"]);
    expect(cellsOf(after).length).toBe(5001);
    expect(cellAt(after, 5000)).toBe("x");
  });
});

describe("withBlock", () => {
  const sheet = sheetOf(setOf(column(1, "berth", ["Mole", "Quarry"]), column(2, "", [])));
  const block = [column(1, "minutes", ["1", "2", "3"], { kind: "number" }), column(2, "late", ["yes", "no", ""])];
  test("lands at its corner and makes the columns that it needs", () => {
    const after = withBlock(sheet, 0, 1, block, true);
    expect(after.columns.map((each) => each.name)).toEqual(["berth", "minutes", "late"]);
    expect(cells(after, 1)).toEqual(["1", "2", "3"]);
    expect(new Set(after.columns.map((each) => each.key)).size).toBe(3);
  });
  test("brings names only to the first row", () => {
    const after = withBlock(sheet, 1, 0, block, true);
    expect(after.columns[0]?.name).toBe("berth");
    expect(cells(after, 0)).toEqual(["Mole", "1", "2", "3"]);
  });
  test("without names it still brings the kind that was chosen", () => {
    const after = withBlock(sheet, 0, 0, block, false);
    expect(after.columns[0]).toMatchObject({ name: "berth", kind: "number" });
  });
  test("leaves derived columns alone", () => {
    const derived = setColumn(sheet, 1, (each) => ({ ...each, formula: "1 + 1" }));
    expect(cells(withBlock(derived, 0, 1, block, true), 1)).toEqual([]);
  });
});

test("rows come and go", () => {
  const sheet = sheetOf(setOf(column(1, "a", ["1", "2", "3"]), column(2, "b", ["x"])));
  expect(cells(withRows(sheet, 1, 2), 0)).toEqual(["1", "", "", "2", "3"]);
  expect(cells(withRows(sheet, 1, 2), 1)).toEqual(["x"]);
  expect(cells(withoutRows(sheet, new Set([0, 2])), 0)).toEqual(["2"]);
});

describe("patchOf", () => {
  const kept = sheetOf(setOf(column(1, "n", long), column(2, "pier", ["Mole"])));
  test("sends only blocks that changed", () => {
    const changed = setColumn(kept, 0, (each) => withCells(each, 5000, ["x"]));
    const patch = patchOf(changed, kept);
    expect(patch.blocks.map((block) => [block.column, block.block])).toEqual([[1, 1]]);
    expect(patch.set.columns.every((each) => each.cells.length === 0)).toBe(true);
  });
  test("sends nothing but the description where only a name changed", () => {
    const patch = patchOf(
      setColumn(kept, 0, (each) => ({ ...each, name: "number" })),
      kept,
    );
    expect(patch.blocks).toEqual([]);
    expect(patch.set.columns[0]?.name).toBe("number");
  });
  test("cuts the last block where rows went away", () => {
    const patch = patchOf(withoutRows(kept, new Set([9999])), kept);
    expect(patch.rows).toBe(9999);
    expect(patch.blocks.at(-1)?.cells.length ?? 0).toBeLessThanOrEqual(9999 - 8192);
  });
  test("a new column is sent whole", () => {
    const patch = patchOf(withColumn(kept, 1, { name: "new", blocks: [["a", "b"]] }), kept);
    expect(patch.blocks).toEqual([{ column: 3, block: 0, cells: ["a", "b"] }]);
  });
});

test.each([
  ["12,5", 12.5],
  ["1 240,50", 1240.5],
  ["−3", -3],
  ["35 %", 35],
  ["€ 7.25", 7.25],
])("asNumber(%s)", (text, want) => {
  expect(asNumber(text)).toBe(want);
});
test.each(["", "n/a", "35o"])("asNumber(%s) is none", (text) => {
  expect(asNumber(text)).toBeNaN();
});

test("a name that is taken gets the first number that is free", () => {
  const sheet = sheetOf(setOf(column(1, "fuel", []), column(2, "fuel 2", []), column(3, " wind ", [])));
  expect(freeName(sheet, "minutes")).toBe("minutes");
  expect(freeName(sheet, "wind")).toBe("wind 2");
  expect(freeName(sheet, "fuel")).toBe("fuel 3");
});

describe("alike", () => {
  const first = () => sheetOf(setOf(column(1, "n", long), column(2, "pier", ["Mole"])));

  test("are sheets that hold the same, however their blocks are cut and whatever stands blank", () => {
    expect(alike(first(), first())).toBe(true);
    expect(
      alike(
        first(),
        setColumn(first(), 1, (each) => withCells(each, 9, [""])),
      ),
    ).toBe(true);
  });

  test.each<[string, (sheet: Sheet) => Sheet]>([
    ["a cell", (sheet) => setColumn(sheet, 0, (each) => withCells(each, 5000, ["x"]))],
    ["a row more", (sheet) => setColumn(sheet, 1, (each) => withCells(each, 10_000, ["x"]))],
    ["a name", (sheet) => setColumn(sheet, 1, (each) => ({ ...each, name: "berth" }))],
    ["a column", (sheet) => withColumn(sheet, 2)],
    ["the form", (sheet) => ({ ...sheet, form: "groups" })],
  ])("are none that differ by %s", (_, change) => {
    expect(alike(first(), change(first()))).toBe(false);
  });
});
