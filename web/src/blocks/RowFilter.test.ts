import { expect, test } from "vitest";
import type { Column, Relation } from "../api/types";
import { filterOf } from "./RowFilter";

const columns = [
  { id: "case", label: "case", numeric: true },
  { id: "residual", label: "residual", numeric: true },
  { id: "berth", label: "Berth", numeric: false },
] as Column[];

test.each<[string, Relation, string, Relation | undefined, string | undefined]>([
  ["residual", "beyond", " 2.5 ", "beyond", "2.5"],
  ["residual", "at-most", "−2,5", "at-most", "-2.5"],
  ["case", "same", "7", "same", "7"],
  ["berth", "at-least", " Mole ", "same", "Mole"], // texts are not ordered
  ["residual", "beyond", "", undefined, undefined],
  ["residual", "beyond", "two", undefined, undefined],
])("a filter typed for %s as %s %s", (column, is, value, relation, want) => {
  const filter = filterOf({ column, is, value }, columns);
  expect(filter?.is).toBe(relation);
  expect(filter?.value).toBe(want);
});
