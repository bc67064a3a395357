import type { Kind } from "../api/types";
import { fixed } from "../lib/number";
import type { Place } from "./selection";
import { asNumber, cellAt, isDerived, type Sheet, type SheetColumn } from "./sheet";

/** cellText returns a cell as it was typed or derived. */
export function cellText(sheet: Sheet, derived: ReadonlyMap<number, string[]>, row: number, column: number): string {
  const of = sheet.columns[column];
  if (!of) return "";
  return isDerived(of) ? (derived.get(of.key)?.[row] ?? "") : cellAt(of, row);
}

/** shownText returns a cell as it is shown while it is not in hand: with the decimals of its column, or the name of its code. */
export function shownText(column: SheetColumn, kind: Kind | undefined, text: string): string {
  if (kind === "number") {
    const x = asNumber(text);
    const decimals = column.decimals;
    if (decimals === undefined || !Number.isFinite(x)) return text;
    return fixed(x, decimals);
  }
  const name = column.level_names?.[text.trim()];
  return name ? `${text} · ${name}` : text;
}

/** edgeOf returns the cell at the end of a run of filled or of blank cells, as the arrows with Ctrl go. */
export function edgeOf(
  sheet: Sheet,
  derived: ReadonlyMap<number, string[]>,
  from: Place,
  key: string,
  rows: number,
  dataRow: (row: number) => number,
): Place {
  const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[key] ?? [0, 0];
  const [down = 0, right = 0] = step;
  const filled = (place: Place) => cellText(sheet, derived, dataRow(place.row), place.column).trim() !== "";
  const within = (place: Place) =>
    place.row >= 0 && place.row < Math.max(1, rows) && place.column >= 0 && place.column < sheet.columns.length;
  let place = from;
  const next = () => ({ row: place.row + down, column: place.column + right });
  if (!within(next())) return from;
  const running = filled(place) && filled(next());
  place = next();
  while (within(next()) && (running ? filled(next()) : !filled(place))) place = next();
  return place;
}

/**
 * moveOf returns how far a key moves the cell in hand, undefined where it stays the input's own. begun is where the row
 * in hand was begun, if Tab led on from there: Enter goes on below it.
 */
export function moveOf(
  event: React.KeyboardEvent,
  input: HTMLInputElement,
  editing: boolean,
  page: number,
  columns: number,
  active: Place,
  begun?: Place,
): Place | undefined {
  const start = !editing || (input.selectionStart === 0 && input.selectionEnd === 0);
  const end = !editing || input.selectionStart === input.value.length;
  switch (event.key) {
    case "Enter":
      if (event.shiftKey) return { row: -1, column: 0 };
      return { row: 1, column: begun?.row === active.row ? begun.column - active.column : 0 };
    case "Tab":
      if (event.shiftKey ? active.column === 0 && active.row === 0 : false) return undefined;
      if (event.shiftKey) return active.column > 0 ? { row: 0, column: -1 } : { row: -1, column: columns - 1 };
      return active.column < columns - 1 ? { row: 0, column: 1 } : { row: 1, column: -active.column };
    case "ArrowDown":
      return { row: 1, column: 0 };
    case "ArrowUp":
      return { row: -1, column: 0 };
    case "ArrowLeft":
      return start ? { row: 0, column: -1 } : undefined;
    case "ArrowRight":
      return end ? { row: 0, column: 1 } : undefined;
    case "Home":
      return editing ? undefined : { row: 0, column: -active.column };
    case "End":
      return editing ? undefined : { row: 0, column: columns };
    case "PageDown":
      return { row: page, column: 0 };
    case "PageUp":
      return { row: -page, column: 0 };
  }
  return undefined;
}
