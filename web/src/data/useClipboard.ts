import type { ClipboardEvent, RefObject, SyntheticEvent } from "react";
import { useSheet } from "./context";
import { type Place, rangeOf, type Selection, textOf, type View, withEachCell, withLines } from "./selection";

/** What was copied last inside the application, so that it pastes without questions. */
let ownCopy = "";

interface Wanted {
  box: RefObject<HTMLDivElement | null>;
  view: View;
  selection: Selection;
  editing: boolean;
  select: (next: Selection) => void;
  clamp: (place: Place) => Place;
  /** A block of several cells that was pasted from elsewhere. */
  onBlock: (text: string, at: Place) => void;
}

/** useClipboard copies, cuts and pastes the cells that are selected. */
export function useClipboard({ box, view, selection, editing, select, clamp, onBlock }: Wanted) {
  const { sheet, change, derived } = useSheet();
  /** Whether an event is the table's own, not one of a panel that was opened from it. */
  const own = (event: SyntheticEvent) => box.current?.contains(event.target as Node) ?? false;
  const copy = (event: ClipboardEvent): boolean => {
    if (editing || !own(event)) return false; // a part of the cell's own text
    event.preventDefault();
    ownCopy = textOf(sheet, derived, selection, view);
    event.clipboardData.setData("text/plain", ownCopy);
    return true;
  };
  const paste = (event: ClipboardEvent) => {
    const text = event.clipboardData.getData("text/plain");
    if (!own(event) || (editing && !/[\t\n]/.test(text))) return;
    event.preventDefault();
    const { top, left } = rangeOf(selection);
    const at = { row: top, column: left };
    if (!/[\t\n]/.test(text.trimEnd())) {
      change("paste", (s) => withEachCell(s, selection, view, () => text.trimEnd()));
      return;
    }
    if (text !== ownCopy) return onBlock(text, at);
    const lines = text.split("\n").map((line) => line.split("\t"));
    change("paste", (s) => withLines(s, at, lines, view));
    const width = lines[0]?.length ?? 1;
    select({ anchor: at, head: clamp({ row: at.row + lines.length - 1, column: at.column + width - 1 }) });
  };
  return {
    onCopy: copy,
    onCut: (event: ClipboardEvent) => {
      if (copy(event)) change("cut", (s) => withEachCell(s, selection, view, () => ""));
    },
    onPaste: paste,
  };
}
