/** A Place is a cell by what is seen: the row in view and the column. */
export interface Place {
  row: number;
  column: number;
}

/** A Selection is a rectangle of cells from the one where it began to the one where it ends. */
export interface Selection {
  anchor: Place;
  head: Place;
  /** Whether whole rows or whole columns are meant. */
  whole?: "rows" | "columns";
}

export interface Range {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/** rangeOf returns the rectangle of a selection. */
export const rangeOf = ({ anchor, head }: Selection): Range => ({
  top: Math.min(anchor.row, head.row),
  bottom: Math.max(anchor.row, head.row),
  left: Math.min(anchor.column, head.column),
  right: Math.max(anchor.column, head.column),
});

export const single = ({ anchor, head }: Selection): boolean =>
  anchor.row === head.row && anchor.column === head.column;

export const inside = (range: Range, row: number, column: number): boolean =>
  row >= range.top && row <= range.bottom && column >= range.left && column <= range.right;
