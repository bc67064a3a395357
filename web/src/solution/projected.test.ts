import { expect, test } from "vitest";
import { projectedIn, smallUnits } from "./projected";

// The smallest letters of a picture are 11 units: in so many pixels they are 1/30 of the height.
test.each([
  [1280, 800],
  [1920, 1080],
  [1024, 768],
  [3840, 2160],
])("in a window of %i × %i no letter of a picture is smaller than 1/30 of the height", (width, height) => {
  const { wide, whole, left, right } = projectedIn(width, height);
  const least = height / 30;
  const margins = 0.11 * height; // of the padding, in letters of 3.4 % of the height
  const letters = (share: number, units: number) => (11 * (share * width - margins)) / units;
  expect(letters(1, whole)).toBeGreaterThanOrEqual(least);
  if (!wide) return;
  expect(letters(0.55, left)).toBeGreaterThanOrEqual(least);
  expect(letters(0.45, right)).toBeGreaterThanOrEqual(least);
});

test("on an old screen the curve stands under the step", () => {
  expect(projectedIn(1024, 768).wide).toBe(false);
  expect(projectedIn(1280, 800).wide).toBe(true);
});

test("of two pictures beside each other each has half the units", () => {
  expect(smallUnits(undefined)).toBe(232);
  expect(smallUnits(470)).toBe(235);
});
