import { expect, test } from "vitest";
import type { Quantity, Table } from "../api/types";
import { canMove, cellFormula, lettersOf, movedBy, placesOf, rowOf, viewsOf } from "./cells";

const table = {
  id: "cells",
  key: ["row", "column"],
  columns: [
    { id: "row", label: "Reason", numeric: false },
    { id: "column", label: "Ticket", numeric: false },
    { id: "observed", label: "observed", symbol: "O", numeric: true },
    { id: "expected", label: "expected", symbol: "E", numeric: true, formula: "\\frac{@{row_total}}{@{n}}" },
    { id: "row_total", label: "row total", symbol: "R", numeric: true, hidden: true },
    { id: "residual", label: "residual", numeric: true, view: "residual", formula: "@{observed}-@{expected}" },
  ],
  shown: [
    ["work", "a/b", "24", "42.7", "119", "−2.86"],
    ["work", "c|d", "33", "39.2", "119", "−0.99"],
    ["~1", "a/b", "3", "−2.5", "7", "0.30"],
  ],
} as unknown as Table;
const quantities = new Map([["n", { id: "n", symbol: "n", display: "234" } as Quantity]]);

test("a reference names a row, whatever its key holds", () => {
  expect(rowOf(table, "cells/work|a~1b/expected")).toBe(0);
  expect(rowOf(table, "cells/work|c~2d/expected")).toBe(1);
  expect(rowOf(table, "cells/~01|a~1b/expected")).toBe(2);
  expect(rowOf(table, "cells/play|a~1b/expected")).toBe(-1);
});

test("a cell's formula in symbols and with the numbers of its row", () => {
  const [, , , expected, , residual] = table.columns;
  if (!expected || !residual) throw new Error("columns are missing");
  expect(cellFormula(table, expected, 0, "symbols", quantities)).toBe("\\frac{{R}}{{n}}");
  expect(cellFormula(table, expected, 0, "numbers", quantities)).toBe("\\frac{{119}}{{234}}");
  expect(cellFormula(table, residual, 2, "numbers", quantities)).toBe("{3}-{(-2.5)}");
});

test("switches and places", () => {
  expect(viewsOf(table)).toEqual(["counts", "residual"]);
  expect(placesOf(table, "column")).toEqual(["a/b", "c|d"]);
});

test("levels move one place, together where several are picked", () => {
  const names = ["a", "b", "c", "d"];
  expect(movedBy(names, ["c"], -1)).toEqual(["a", "c", "b", "d"]);
  expect(movedBy(names, ["c"], 1)).toEqual(["a", "b", "d", "c"]);
  expect(movedBy(names, ["b", "c"], -1)).toEqual(["b", "c", "a", "d"]);
  expect(movedBy(names, ["b", "c"], 1)).toEqual(["a", "d", "b", "c"]);
  expect(canMove(names, ["a"], -1)).toBe(false);
  expect(canMove(names, ["a", "b"], -1)).toBe(false);
  expect(canMove(names, ["a", "c"], -1)).toBe(true);
  expect(canMove(names, ["d"], 1)).toBe(false);
});

test("a column is as wide as its longest number or word", () => {
  const sizes = { columns: [{ label: "between groups" }, { label: "sd", numeric: true }] } as unknown as Table;
  const of = (shown: string[][]) => [0, 1].map((at) => lettersOf({ ...sizes, shown }, at));
  expect(of([["in all", "1"]])).toEqual([7, 2]);
  expect(of([["two-handed", "1\u202f234\u202f567.5"]])).toEqual([7, 9.8]);
  expect(of([])).toEqual([7, 2]);
});
