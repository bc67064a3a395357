import { getStroke } from "perfect-freehand";
import type { Drawing, Ink } from "../api/types";

/** What is drawn with. The eraser takes strokes away, the laser leaves none. */
export type Tool = "pen" | "marker" | "eraser" | "laser";

/** A Point of the hand: where, from the corner of the step, and how hard it pressed, from 0 to 1. Lengths are in rem. */
export type Point = readonly [x: number, y: number, pressure: number];

/** A Drawn stroke is the area that is inked: x and y of its corners in turn, in rem from the corner of the step. */
export interface Drawn {
  readonly ink: Ink;
  readonly marker: boolean;
  readonly outline: readonly number[];
}

/** How wide the strokes are, in rem. */
const widths = { pen: 0.24, marker: 1.25 };

/** drawn returns the stroke of a hand; pressed says that the points tell how hard, which is guessed from the speed otherwise. */
export function drawn(points: readonly Point[], tool: "pen" | "marker", ink: Ink, pressed: boolean): Drawn {
  const scale = 100; // the package rounds for pixels
  const outline = getStroke(
    points.map(([x, y, pressure]) => [x * scale, y * scale, pressure]),
    {
      size: widths[tool] * scale,
      thinning: tool === "pen" ? 0.5 : 0,
      streamline: 0.4,
      smoothing: 0.5,
      simulatePressure: tool === "pen" && !pressed,
    },
  );
  return {
    ink,
    marker: tool === "marker",
    outline: outline.flatMap(([x = 0, y = 0]) => [round(x / scale), round(y / scale)]),
  };
}

const round = (x: number): number => Math.round(x * 1000) / 1000;

/** pathOf draws the area of a stroke: through the middles of its edges, so that it has no corners. */
export function pathOf({ outline }: Drawn): Path2D {
  const path = new Path2D();
  const count = outline.length / 2;
  const at = (i: number): [number, number] => [outline[2 * (i % count)] ?? 0, outline[2 * (i % count) + 1] ?? 0];
  for (let i = 0; i < count; i++) {
    const [x, y] = at(i);
    const [nextX, nextY] = at(i + 1);
    if (i === 0) path.moveTo((x + nextX) / 2, (y + nextY) / 2);
    const [afterX, afterY] = at(i + 2);
    path.quadraticCurveTo(nextX, nextY, (nextX + afterX) / 2, (nextY + afterY) / 2);
  }
  path.closePath();
  return path;
}

/** touches tells whether a stroke comes as near to a point. */
export function touches({ outline }: Drawn, x: number, y: number, near: number): boolean {
  const count = outline.length / 2;
  let inside = false;
  for (let i = 0, j = count - 1; i < count; j = i++) {
    const ax = (outline[2 * j] ?? 0) - x;
    const ay = (outline[2 * j + 1] ?? 0) - y;
    const bx = (outline[2 * i] ?? 0) - x;
    const by = (outline[2 * i + 1] ?? 0) - y;
    const dx = bx - ax;
    const dy = by - ay;
    const along = Math.max(0, Math.min(1, -(ax * dx + ay * dy) / (dx * dx + dy * dy || 1)));
    if (Math.hypot(ax + along * dx, ay + along * dy) <= near) return true;
    // A ray to the right crosses the edges an odd number of times from within (Shimrat, 1962, algorithm 112).
    if (ay > 0 !== by > 0 && ax - (ay * dx) / dy > 0) inside = !inside;
  }
  return inside;
}

/** A Sheet is what was drawn over a step, with what can be undone. */
export interface Sheet {
  readonly strokes: readonly Drawn[];
  readonly past: readonly (readonly Drawn[])[];
  readonly future: readonly (readonly Drawn[])[];
}

export const blankSheet: Sheet = { strokes: [], past: [], future: [] };

/** How many strokes a step takes, and how many changes can be undone. */
export const mostStrokes = 2000;
const mostUndone = 200;

/** withStrokes is the sheet with other strokes, which can be undone. */
export const withStrokes = (sheet: Sheet, strokes: readonly Drawn[]): Sheet =>
  strokes === sheet.strokes
    ? sheet
    : { strokes, past: [...sheet.past.slice(1 - mostUndone), sheet.strokes], future: [] };

/** undone and redone go along what was changed; the same sheet where there is nothing. */
export function undone({ strokes, past, future }: Sheet): Sheet {
  const before = past.at(-1);
  return before
    ? { strokes: before, past: past.slice(0, -1), future: [...future, strokes] }
    : { strokes, past, future };
}

export function redone({ strokes, past, future }: Sheet): Sheet {
  const after = future.at(-1);
  return after ? { strokes: after, past: [...past, strokes], future: future.slice(0, -1) } : { strokes, past, future };
}

/** How many corners a picture has at most, and how wide and high it is, in pixels. */
const mostCorners = 40_000;
const mostSide = 4000;
/** The room around the strokes of a picture, in pixels. */
const margin = 8;

/** pictureOf makes a picture of strokes, in pixels of which a rem has so many; corners that are close together become one. */
export function pictureOf(strokes: readonly Drawn[], rem: number): Drawing {
  const xs = strokes.flatMap((stroke) => stroke.outline.filter((_, i) => i % 2 === 0));
  const ys = strokes.flatMap((stroke) => stroke.outline.filter((_, i) => i % 2 === 1));
  const extent = (values: readonly number[]) =>
    values.reduce(([least, most], value) => [Math.min(least, value), Math.max(most, value)] as const, [
      Number.POSITIVE_INFINITY,
      Number.NEGATIVE_INFINITY,
    ] as const);
  const [left, right] = extent(xs);
  const [top, bottom] = extent(ys);
  const room = mostSide - 2 * margin - 2;
  const scale = Math.min(rem, room / Math.max(right - left, 1e-9), room / Math.max(bottom - top, 1e-9));
  const placed = strokes.map((stroke) =>
    stroke.outline.map((each, i) => (each - (i % 2 === 0 ? left : top)) * scale + margin),
  );
  let apart = 0.7;
  let outlines = placed.map((outline) => thinned(outline, apart));
  while (outlines.reduce((sum, outline) => sum + outline.length / 2, 0) > mostCorners) {
    apart *= 1.6;
    outlines = placed.map((outline) => thinned(outline, apart));
  }
  return {
    width: Math.ceil((right - left) * scale + 2 * margin),
    height: Math.ceil((bottom - top) * scale + 2 * margin),
    strokes: strokes.map(({ ink, marker }, i) => ({
      ink,
      ...(marker ? { marker } : {}),
      outline: outlines[i] ?? [],
    })),
  };
}

/** thinned leaves corners out that are no farther from the one before; three stay. */
function thinned(outline: readonly number[], apart: number): number[] {
  const out: number[] = [];
  for (let i = 0; i < outline.length; i += 2) {
    const x = outline[i] ?? 0;
    const y = outline[i + 1] ?? 0;
    const far = Math.hypot(x - (out.at(-2) ?? 0), y - (out.at(-1) ?? 0)) > apart;
    const needed = out.length / 2 + (outline.length - i) / 2 <= 3;
    if (out.length === 0 || far || needed) out.push(Math.round(x * 10) / 10, Math.round(y * 10) / 10);
  }
  return out;
}
