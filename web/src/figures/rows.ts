import type { Figure } from "../api/types";

/** rowsOf returns how many rows a figure has. */
export const rowsOf = (figure: Figure): number => 1 + Math.max(-1, ...figure.marks.map((mark) => mark.row ?? 0));

/** firstRows returns a figure with its first rows only; marks across all rows stay. */
export const firstRows = (figure: Figure, count: number): Figure => ({
  ...figure,
  marks: figure.marks.filter((mark) => mark.shape === "rule" || (mark.row ?? 0) < count),
});
