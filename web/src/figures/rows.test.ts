import { expect, test } from "vitest";
import type { Figure } from "../api/types";
import { firstRows, rowsOf } from "./rows";

const figure = {
  form: "intervals",
  marks: [
    { shape: "interval", role: "observed", x: [1, 2, 3] },
    { shape: "interval", role: "observed", row: 1, x: [1, 2, 3] },
    { shape: "interval", role: "observed", row: 2, x: [1, 2, 3] },
    { shape: "rule", role: "expected", x: [0] },
  ],
} as unknown as Figure;

test("a figure is cut to its first rows and keeps what lies across them", () => {
  expect(rowsOf(figure)).toBe(3);
  const cut = firstRows(figure, 2);
  expect(rowsOf(cut)).toBe(2);
  expect(cut.marks.map((mark) => mark.shape)).toEqual(["interval", "interval", "rule"]);
  expect(rowsOf({ ...figure, marks: [] })).toBe(0);
});
