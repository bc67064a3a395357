import { expect, test } from "vitest";
import { leanFill, leanMark } from "./lean";

test("a cell leans from two standard deviations on, the more the stronger", () => {
  expect(leanFill(1.99)).toBeNull();
  expect(leanMark(-1.99)).toBe("");
  expect(leanMark(2)).toBe("▲");
  expect(leanMark(-2)).toBe("▼");
  expect(leanFill(3)?.ink).not.toBe(leanFill(-3)?.ink);
  expect(leanFill(3)?.opacity).toBeGreaterThan(leanFill(2)?.opacity ?? 1);
  expect(leanFill(50)?.opacity).toBe(0.26);
});
