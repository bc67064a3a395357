import { cellText } from "./gridText";
import { asNumber, type Sheet } from "./sheet";

/** A Sort is a column, by its key, that gives the order in which rows are seen. */
export interface Sort {
  key: number;
  down: boolean;
}

/** sortedRows returns the rows in the order of a column: numbers by size, words by the alphabet, blanks last. */
export function sortedRows(
  sheet: Sheet,
  derived: ReadonlyMap<number, string[]>,
  sort: Sort,
  rows: number,
): Int32Array | undefined {
  const at = sheet.columns.findIndex((column) => column.key === sort.key);
  if (at < 0) return undefined;
  const texts = Array.from({ length: rows }, (_, row) => cellText(sheet, derived, row, at).trim());
  const numbers = texts.map(asNumber);
  const order = Int32Array.from(texts.keys());
  const collator = new Intl.Collator(undefined, { numeric: true });
  const side = sort.down ? -1 : 1;
  return order.sort((a, b) => {
    const [s, t] = [texts[a] ?? "", texts[b] ?? ""];
    if (s === "" || t === "") return s === t ? a - b : s === "" ? 1 : -1;
    const [x, y] = [numbers[a] ?? Number.NaN, numbers[b] ?? Number.NaN];
    const numeric = !Number.isNaN(x) && !Number.isNaN(y);
    if (Number.isNaN(x) !== Number.isNaN(y)) return (Number.isNaN(x) ? 1 : -1) * side;
    return (numeric ? x - y : collator.compare(s, t)) * side || a - b;
  });
}
