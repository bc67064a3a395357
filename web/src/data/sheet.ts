import type { DataColumn, DataSet, StoreBlock } from "../api/types";
import { same } from "../lib/same";

/** How many cells of a column lie in one block, here as on the server. */
const blockRows = 4096;

/** A SheetColumn has its cells in blocks that are shared between states and never changed. */
export interface SheetColumn extends Omit<DataColumn, "cells"> {
  blocks: string[][];
}

/** A Sheet is a data set in hand. A change makes a new one that shares what is the same. */
export interface Sheet extends Omit<DataSet, "columns"> {
  columns: SheetColumn[];
}

/** blocksOf cuts cells into blocks. */
export function blocksOf(cells: string[]): string[][] {
  const blocks: string[][] = [];
  for (let i = 0; i < cells.length; i += blockRows) blocks.push(cells.slice(i, i + blockRows));
  return blocks;
}

/** sheetOf returns a data set as a sheet; cells of derived columns are not part of it. */
export function sheetOf(set: DataSet): Sheet {
  return {
    ...set,
    columns: set.columns.map(({ cells, ...column }) => ({
      ...column,
      blocks: isDerived(column) ? [] : blocksOf(cells),
    })),
  };
}

export const isDerived = (column: Pick<DataColumn, "formula" | "recode">): boolean =>
  Boolean(column.formula || column.recode);

/** cellAt returns a cell, "" where there is none. */
export function cellAt(column: SheetColumn | undefined, row: number): string {
  return column?.blocks[Math.floor(row / blockRows)]?.[row % blockRows] ?? "";
}

/** cellsOf returns all cells of a column. */
export const cellsOf = (column: SheetColumn): string[] => {
  const all: string[] = [];
  column.blocks.forEach((block, i) => {
    while (all.length < i * blockRows) all.push("");
    for (const cell of block) all.push(cell);
  });
  return all;
};

const lastRows = new WeakMap<string[][], number>();

/** filledRows is the number of rows of a column up to the last that holds something. */
function filledRows(column: SheetColumn): number {
  const known = lastRows.get(column.blocks);
  if (known !== undefined) return known;
  let rows = 0;
  for (let b = column.blocks.length - 1; b >= 0 && rows === 0; b--) {
    const block = column.blocks[b] ?? [];
    for (let i = block.length - 1; i >= 0; i--) {
      if (block[i]?.trim()) {
        rows = b * blockRows + i + 1;
        break;
      }
    }
  }
  lastRows.set(column.blocks, rows);
  return rows;
}

/** rowsOf is the number of rows of a sheet up to the last that holds something. */
export const rowsOf = (sheet: Sheet): number => Math.max(0, ...sheet.columns.map(filledRows));

/** withCellsAt returns the column with the cells of some rows replaced. A block that changes is copied once. */
export function withCellsAt(column: SheetColumn, cells: Iterable<[row: number, cell: string]>): SheetColumn {
  const blocks = [...column.blocks];
  const copied = new Set<number>();
  for (const [row, cell] of cells) {
    const b = Math.floor(row / blockRows);
    while (blocks.length <= b) blocks.push([]);
    if (!copied.has(b)) {
      blocks[b] = [...(blocks[b] ?? [])];
      copied.add(b);
    }
    const block = blocks[b] as string[];
    while (block.length < row % blockRows) block.push("");
    block[row % blockRows] = cell;
  }
  return { ...column, blocks };
}

/** withCells returns the column with cells from a row on replaced. */
export const withCells = (column: SheetColumn, from: number, cells: string[]): SheetColumn =>
  withCellsAt(
    column,
    cells.map((cell, i) => [from + i, cell]),
  );

/** setColumn returns the sheet with one column changed. */
export function setColumn(sheet: Sheet, at: number, next: (column: SheetColumn) => SheetColumn): Sheet {
  return { ...sheet, columns: sheet.columns.map((column, i) => (i === at ? next(column) : column)) };
}

/** newColumn returns an empty column with a key of its own. */
export function newColumn(sheet: Sheet, fields: Partial<SheetColumn> = {}): SheetColumn {
  const key = 1 + Math.max(0, ...sheet.columns.map((column) => column.key));
  return { key, name: "", label: "", unit: "", kind: "", blocks: [], ...fields };
}

/** freeName returns a name that no column has: the given one, or with the first number that is free. */
export function freeName(sheet: Sheet, name: string): string {
  const taken = new Set(sheet.columns.map((column) => column.name.trim()));
  let free = name;
  for (let i = 2; taken.has(free); i++) free = `${name} ${i}`;
  return free;
}

/** withColumn puts a new column in at a place. */
export function withColumn(sheet: Sheet, at: number, fields: Partial<SheetColumn> = {}): Sheet {
  return { ...sheet, columns: sheet.columns.toSpliced(at, 0, newColumn(sheet, fields)) };
}

/** withBlock lays columns of cells over the sheet, their corner at the given cell; names go along from the top. */
export function withBlock(sheet: Sheet, row: number, column: number, block: DataColumn[], names: boolean): Sheet {
  let next = sheet;
  block.forEach((from, i) => {
    let at = column + i;
    if (at >= next.columns.length) {
      next = withColumn(next, next.columns.length);
      at = next.columns.length - 1;
    }
    next = setColumn(next, at, (to) => {
      if (isDerived(to)) return to;
      // What the block says of a column goes along; what it leaves open stays.
      const left = names ? ["key", "cells"] : ["key", "cells", "name"];
      const said = Object.entries(from).filter(([field, value]) => !left.includes(field) && value !== "");
      const fresh = row === 0 ? { ...to, ...Object.fromEntries(said) } : to;
      return withCells(fresh, row, from.cells);
    });
  });
  return next;
}

/** everyColumn changes the cells of all typed columns as a whole. */
function everyColumn(sheet: Sheet, next: (cells: string[]) => string[]): Sheet {
  return {
    ...sheet,
    columns: sheet.columns.map((column) =>
      isDerived(column) ? column : { ...column, blocks: blocksOf(next(cellsOf(column))) },
    ),
  };
}

/** withRows puts blank rows in before a row. */
export function withRows(sheet: Sheet, before: number, count: number): Sheet {
  return everyColumn(sheet, (cells) =>
    before >= cells.length ? cells : cells.toSpliced(before, 0, ...Array.from({ length: count }, () => "")),
  );
}

/** withoutRows takes rows out. */
export function withoutRows(sheet: Sheet, rows: ReadonlySet<number>): Sheet {
  return everyColumn(sheet, (cells) => cells.filter((_, row) => !rows.has(row)));
}

/** alike reports whether two sheets hold the same, block by block. */
export function alike(a: Sheet, b: Sheet): boolean {
  const plain = (sheet: Sheet) => ({
    ...sheet,
    columns: sheet.columns.map(({ blocks: _, ...column }) => column),
  });
  const rows = rowsOf(a);
  return (
    rows === rowsOf(b) &&
    same(plain(a), plain(b)) &&
    a.columns.every((column, i) => {
      const other = b.columns[i];
      return (
        column.blocks === other?.blocks ||
        Array.from({ length: rows }).every((_, row) => cellAt(column, row) === cellAt(other, row))
      );
    })
  );
}

/** patchOf returns what a sheet has that the kept one has not. */
export function patchOf(sheet: Sheet, kept: Sheet): { set: DataSet; rows: number; blocks: StoreBlock[] } {
  const rows = rowsOf(sheet);
  const shrunk = rows < rowsOf(kept);
  const byKey = new Map(kept.columns.map((column) => [column.key, column]));
  const blocks: StoreBlock[] = [];
  for (const column of sheet.columns) {
    if (isDerived(column)) continue;
    const before = byKey.get(column.key)?.blocks;
    column.blocks.forEach((cells, block) => {
      const from = block * blockRows;
      if (from >= rows) return;
      const last = from + cells.length > rows;
      if (before?.[block] === cells && !(last && shrunk)) return;
      blocks.push({ column: column.key, block, cells: last ? cells.slice(0, rows - from) : cells });
    });
  }
  const columns = sheet.columns.map(({ blocks: _, ...column }) => ({ ...column, cells: [] }));
  return { set: { ...sheet, columns }, rows, blocks };
}

/** asNumber reads a cell as a number for sorting and showing; NaN where it is none. */
export function asNumber(cell: string): number {
  const plain = cell
    .trim()
    .replace(/[\s\u202f\u2009']/g, "")
    .replace("−", "-")
    .replace(",", ".")
    .replace(/[%€$£]/g, "");
  return plain === "" ? Number.NaN : Number(plain);
}
