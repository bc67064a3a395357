import { scaleLinear } from "d3-scale";
import type { Mark } from "../api/types";

/** lineAt returns the height of a line at x, between its points and, as its ends go on, beyond them. */
export function lineAt(line: Mark, x: number): number {
  return scaleLinear(
    (line.x ?? []).map((at) => at ?? 0),
    (line.y ?? []).map((up) => up ?? 0),
  )(x);
}

/** residualWords says how far a case lies from what is expected: “3.1 L more than expected”. */
export function residualWords(residual: number, unit?: string): string {
  const size = Number(Math.abs(residual).toPrecision(2));
  if (size === 0) return "as expected";
  return `${size}${unit ? `\u00a0${unit}` : ""} ${residual > 0 ? "more" : "less"} than expected`;
}
