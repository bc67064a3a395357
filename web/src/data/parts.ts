import { request } from "../api/client";
import type { CellPlace, CellsPart, ColumnCells } from "../api/types";

/** A data set, or what is known of it, whose cells have come as far as a place; all where that is null. */
interface Begun {
  /** Where the data set is asked. */
  path: string;
  version: number;
  next: CellPlace | null;
}

/**
 * withAllCells adds to columns the cells that did not come with them: all columns of the data set, or those of the keys. A
 * data set that is changed meanwhile is a conflict.
 */
export async function withAllCells(
  { path, version, next }: Begun,
  columns: ColumnCells[],
  keys?: number[],
): Promise<void> {
  const byKey = new Map(columns.map((each) => [each.column, each.cells]));
  const wanted = (keys ?? []).map((key) => `&key=${key}`).join("");
  for (let from = next; from !== null; ) {
    const at = `row=${from.row}&column=${from.column}&version=${version}${wanted}`;
    const part: CellsPart = await request<CellsPart>("GET", `${path}/cells?${at}`);
    for (const { column, cells } of part.columns) {
      const known = byKey.get(column);
      for (const cell of cells) known?.push(cell);
    }
    from = part.next;
  }
}
