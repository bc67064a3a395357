import { cellText } from "./gridText";
import { isDerived, type Sheet, setColumn, withCellsAt } from "./sheet";

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

/** A View is how the rows of a sheet are seen: so many are filled, and in an order of their own where they are sorted. */
export interface View {
  filled: number;
  order?: Int32Array;
}

/** dataRow returns the row of the sheet that is seen at a place. */
export const dataRow = ({ order }: View, row: number): number => order?.[row] ?? row;

/** lastOf is the last row that belongs to a selection: whole columns end with what is filled. */
const lastOf = (selection: Selection, view: View): number =>
  selection.whole === "columns" ? view.filled - 1 : rangeOf(selection).bottom;

/** rowsIn returns the rows of the sheet that a selection has a part of, none of them beyond what is filled. */
export function rowsIn(selection: Selection, view: View): Set<number> {
  const { top, bottom } = rangeOf(selection);
  const rows = new Set<number>();
  for (let row = top; row <= Math.min(bottom, view.filled - 1); row++) rows.add(dataRow(view, row));
  return rows;
}

/** withEachCell returns the sheet with every cell of a selection that can be typed in set to what its column is given. */
export function withEachCell(sheet: Sheet, selection: Selection, view: View, cell: (column: number) => string): Sheet {
  const { top, left, right } = rangeOf(selection);
  const bottom = lastOf(selection, view);
  let next = sheet;
  for (let at = left; at <= right; at++) {
    const column = sheet.columns[at];
    if (!column || isDerived(column)) continue;
    const cells: [number, string][] = [];
    for (let row = top; row <= bottom; row++) cells.push([dataRow(view, row), cell(at)]);
    next = setColumn(next, at, (of) => withCellsAt(of, cells));
  }
  return next;
}

/** textOf returns the cells of a selection as a block of text: a line for each row, its cells parted by tabs. */
export function textOf(sheet: Sheet, derived: ReadonlyMap<number, string[]>, selection: Selection, view: View): string {
  const { top, left, right } = rangeOf(selection);
  const lines: string[] = [];
  for (let row = top; row <= lastOf(selection, view); row++) {
    const cells: string[] = [];
    for (let column = left; column <= right; column++) cells.push(cellText(sheet, derived, dataRow(view, row), column));
    lines.push(cells.join("\t"));
  }
  return lines.join("\n");
}

/** withLines returns the sheet with lines of cells laid over it, their corner at a place that is seen. */
export function withLines(sheet: Sheet, at: Place, lines: string[][], view: View): Sheet {
  let next = sheet;
  lines[0]?.forEach((_, i) => {
    const column = next.columns[at.column + i];
    if (!column || isDerived(column)) return;
    const cells = lines.map((line, j): [number, string] => [dataRow(view, at.row + j), line[i] ?? ""]);
    next = setColumn(next, at.column + i, (of) => withCellsAt(of, cells));
  });
  return next;
}
