import { expect, test } from "vitest";
import {
  blankSheet,
  type Drawn,
  drawn,
  mostStrokes,
  type Point,
  pictureOf,
  redone,
  touches,
  undone,
  withStrokes,
} from "./strokes";

/** line is a hand that goes from the left to the right, in rem. */
const line = (from: number, to: number, y: number, pressure = 0.5): Point[] =>
  Array.from({ length: 40 }, (_, i): Point => [from + ((to - from) * i) / 39, y, pressure]);

/** The extent of a stroke: left, top, right, bottom. */
function box({ outline }: { outline: readonly number[] }) {
  const xs = outline.filter((_, i) => i % 2 === 0);
  const ys = outline.filter((_, i) => i % 2 === 1);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as const;
}

/** square is an area from 0 to 10. */
const square: Drawn = { ink: "black", marker: false, outline: [0, 0, 10, 0, 10, 10, 0, 10] };

test("a marker is as wide wherever the hand is, and lies about its line", () => {
  const stroke = drawn(line(2, 20, 5), "marker", "green", false);
  expect(stroke).toMatchObject({ ink: "green", marker: true });
  const [left, top, right, bottom] = box(stroke);
  expect(left).toBeGreaterThan(1);
  expect(right).toBeGreaterThan(18);
  expect(right).toBeLessThan(21);
  expect(top).toBeCloseTo(5 - 1.25 / 2, 1);
  expect(bottom).toBeCloseTo(5 + 1.25 / 2, 1);
});

test("who presses harder draws a wider line", () => {
  const height = (pressure: number) => {
    const [, top, , bottom] = box(drawn(line(0, 20, 5, pressure), "pen", "black", true));
    return bottom - top;
  };
  expect(height(0.9)).toBeGreaterThan(1.3 * height(0.2));
});

test("a dot is a stroke", () => {
  const dot = drawn([[3, 4, 0.5]], "pen", "red", false);
  expect(dot.outline.length).toBeGreaterThan(6);
  const [left, top, right, bottom] = box(dot);
  expect((left + right) / 2).toBeCloseTo(3, 1);
  expect((top + bottom) / 2).toBeCloseTo(4, 1);
});

test.each([
  [5, 5, 0.1, true], // within
  [10.4, 5, 0.5, true], // beside an edge
  [10.6, 5, 0.5, false],
  [10.4, 10.4, 0.5, false], // beyond a corner: 0.57 away
  [10.3, 10.3, 0.5, true],
  [-5, 5, 0.5, false], // left of it: both edges are crossed
  [5, -3, 0.5, false],
])("at %d, %d and %d near it touches: %s", (x, y, near, expected) => {
  expect(touches(square, x, y, near)).toBe(expected);
});

test("what is drawn, wiped out or thrown away is undone and redone in its order", () => {
  const other = { ...square };
  let sheet = withStrokes(withStrokes(blankSheet, [square]), [square, other]);
  sheet = withStrokes(sheet, []);
  expect(undone(sheet).strokes).toEqual([square, other]);
  expect(undone(undone(sheet)).strokes).toEqual([square]);
  expect(redone(undone(sheet)).strokes).toEqual([]);
  expect(undone(undone(undone(undone(undone(sheet))))).strokes).toEqual([]);
  expect(redone(sheet).strokes).toEqual([]);
  expect(withStrokes(undone(sheet), [other]).future).toEqual([]);
  expect(withStrokes(sheet, sheet.strokes)).toBe(sheet);
});

test("a picture holds its strokes in pixels, with room around them", () => {
  const shifted: Drawn = { ...square, ink: "red", marker: true, outline: square.outline.map((each) => each + 20) };
  const picture = pictureOf([square, shifted], 16);
  expect(picture.width).toBe(30 * 16 + 16);
  expect(picture.height).toBe(30 * 16 + 16);
  expect(picture.strokes[0]).toEqual({ ink: "black", outline: [8, 8, 168, 8, 168, 168, 8, 168] });
  expect(picture.strokes[1]).toEqual({ ink: "red", marker: true, outline: [328, 328, 488, 328, 488, 488, 328, 488] });
});

test("a picture is bounded in its corners and its sides, and every stroke of it stays an area", () => {
  const circle = (x: number, y: number): Drawn => ({
    ink: "black",
    marker: false,
    outline: Array.from({ length: 240 }, (_, i) => [x + Math.cos(i / 38), y + Math.sin(i / 38)]).flat(),
  });
  const strokes = Array.from({ length: mostStrokes }, (_, i) => circle(i % 50, Math.floor(i / 50)));
  const picture = pictureOf([...strokes, { ...square, outline: [0, 0, 1000, 0, 1000, 1000] }], 16);
  expect(picture.width).toBeLessThanOrEqual(4000);
  expect(picture.height).toBeLessThanOrEqual(4000);
  const corners = picture.strokes.map((stroke) => stroke.outline.length / 2);
  expect(corners.reduce((sum, each) => sum + each, 0)).toBeLessThanOrEqual(40_000);
  expect(Math.min(...corners)).toBeGreaterThanOrEqual(3);
  const beyond = picture.strokes.flatMap((stroke) => stroke.outline).filter((each) => !(each >= 0 && each <= 4000));
  expect(beyond).toEqual([]);
});
