import type { Mark } from "../api/types";

/** lineAt returns the height of a straight line at x, from its two ends. */
export function lineAt(line: Mark, x: number): number {
  const [x0, x1] = [line.x?.[0] ?? 0, line.x?.at(-1) ?? 1];
  const [y0, y1] = [line.y?.[0] ?? 0, line.y?.at(-1) ?? 0];
  return x1 === x0 ? y0 : y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
}

/** residualWords says how far a case lies from what is expected: “3.1 L more than expected”. */
export function residualWords(residual: number, unit?: string): string {
  const size = Number(Math.abs(residual).toPrecision(2));
  if (size === 0) return "as expected";
  return `${size}${unit ? `\u00a0${unit}` : ""} ${residual > 0 ? "more" : "less"} than expected`;
}
