import { expect, test } from "vitest";
import { labelOfRule } from "./CurveFigure";

/** A bell over 400 units, 134 high, its foot at 172. */
const bell = Array.from({ length: 201 }, (_, i) => ({
  x: 2 * i,
  y: 172 - 134 * Math.exp(-(((2 * i - 200) / 50) ** 2) / 2),
}));

const clear = (left: number, long: number) =>
  bell.every(({ x, y }) => x <= left || x >= left + long || y <= 113 || y >= 125);

test.each([
  [90, undefined, "far out"],
  [120, undefined, "where the curve rises"],
  [120, 110, "with the statistic outside it"],
  [280, undefined, "where the curve falls"],
  [280, 110, "with the statistic on the other side"],
  [280, 283, "with the statistic almost on it"],
  [150, undefined, "well inside the bell"],
])("a label at %i lies on no line, %s", (rule, statistic, _where) => {
  const left = labelOfRule(rule, statistic, 125, 43, 400, bell);
  expect(clear(left, 43)).toBe(true);
  expect(left).toBeGreaterThanOrEqual(2);
  expect(left + 43).toBeLessThanOrEqual(398);
  if (statistic) expect(statistic < left || statistic > left + 43).toBe(true);
});

test("a label stands over its rule where there is room", () => {
  expect(labelOfRule(60, undefined, 125, 40, 400, bell)).toBe(40);
  expect(labelOfRule(10, undefined, 125, 40, 400, bell)).toBe(2); // and within the picture
});
