import { expect, test } from "vitest";
import type { Mark } from "../api/types";
import { lineAt, residualWords } from "./line";

const line = { shape: "line", role: "statistic", x: [0, 5, 10], y: [2, 4.5, 7] } as Mark;

test("a line is read between and beyond its ends", () => {
  expect(lineAt(line, 0)).toBe(2);
  expect(lineAt(line, 4)).toBe(4);
  expect(lineAt(line, 20)).toBe(12);
  expect(lineAt({ ...line, x: [0, 1, 2], y: [1, 2, 4] }, 1.5)).toBe(3);
  expect(lineAt({ ...line, x: [3, 3], y: [8, 8] }, 99)).toBe(8);
});

test("a residual is said in words", () => {
  expect(residualWords(3.1234, "L")).toBe("3.1\u00a0L more than expected");
  expect(residualWords(-0.0456)).toBe("0.046 less than expected");
  expect(residualWords(0, "L")).toBe("as expected");
});
