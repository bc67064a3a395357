import type { Column, Quantity, Table } from "../api/types";
import { texNumber } from "./TeX";

/** unescapePart reads a part of a reference as EscapeRef in Go writes it. */
export const unescapePart = (part: string): string =>
  part.replaceAll("~1", "/").replaceAll("~2", "|").replaceAll("~0", "~");

/** rowOf finds the row that a reference "table/key/column" names, −1 where there is none. */
export function rowOf(table: Table, reference: string): number {
  const key = (reference.split("/")[1] ?? "").split("|").map(unescapePart);
  const at = table.key.map((id) => table.columns.findIndex((column) => column.id === id));
  return table.shown.findIndex((row) => at.every((j, k) => row[j] === key[k]));
}

/** cellFormula writes how a cell comes about, in symbols or with the numbers of its row. */
export function cellFormula(
  table: Table,
  column: Column,
  row: number,
  show: "symbols" | "numbers",
  quantities: ReadonlyMap<string, Quantity>,
): string {
  return (column.formula ?? "").replace(/@\{([^{}]*)\}/g, (_, id: string) => {
    const at = table.columns.findIndex((each) => each.id === id);
    const quantity = quantities.get(id);
    if (show === "symbols") return `{${table.columns[at]?.symbol ?? quantity?.symbol ?? id}}`;
    const tex = texNumber(table.shown[row]?.[at] ?? quantity?.display ?? "?");
    return tex.startsWith("-") ? `{(${tex})}` : `{${tex}}`;
  });
}

/** The view of a crossed table that has what was observed, what is expected and what a cell contributes. */
export const together = "together";

/** The switches of a crossed table: what its cells can show, counts first, and all that makes the statistic second. */
export function viewsOf(table: Table): string[] {
  const all = table.columns.some((column) => column.id === "contribution") ? [together] : [];
  return ["counts", ...all, ...new Set(table.columns.flatMap((column) => (column.view ? [column.view] : [])))];
}

/** visible reports whether a column is shown: some stand in formulas only. */
export const visible = (column: Column): boolean => column.hidden !== true;

/** lettersOf returns how many letters wide a column stands: a number in one piece, a name by its longest word. */
export function lettersOf(table: Table, at: number): number {
  const wide = (text: string) => text.replaceAll("\u202f", "").length + 0.4 * (text.split("\u202f").length - 1);
  const longest = (text: string) => Math.max(0, ...text.split(/[ -]/).map(wide));
  const column = table.columns[at];
  const cells = table.shown.map((row) => row[at] ?? "");
  return Math.max(longest(column?.label ?? ""), ...cells.map(column?.numeric ? wide : longest));
}

/** placesOf returns the values of a key column in the order in which they come. */
export function placesOf(table: Table, id: string): string[] {
  const at = table.columns.findIndex((column) => column.id === id);
  return [...new Set(table.shown.map((row) => row[at] ?? ""))];
}

/** totalsOf returns the totals of the lines of a crossed table by their names, from the table that has them. */
export const totalsOf = (totals: Table | undefined): Map<string, string> =>
  new Map(totals?.shown.map((row) => [row[0] ?? "", row[1] ?? ""]));

/** movedBy returns names with those that were picked moved one place back (−1) or forth (1). */
export function movedBy(names: string[], picked: string[], by: number): string[] {
  const out = by < 0 ? [...names] : [...names].reverse();
  for (let i = 1; i < out.length; i++) {
    const [before, name] = [out[i - 1] ?? "", out[i] ?? ""];
    if (picked.includes(name) && !picked.includes(before)) [out[i - 1], out[i]] = [name, before];
  }
  return by < 0 ? out : out.reverse();
}

/** canMove reports whether moving changes anything. */
export const canMove = (names: string[], picked: string[], by: number): boolean =>
  movedBy(names, picked, by).some((name, i) => name !== names[i]);
