import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { columnWidth, rowHeadWidth, rowHeight } from "./gridSize";
import { type Place, rangeOf, type Selection } from "./selection";

/** How much of the page its head covers. */
const pageHead = 64;

interface Wanted {
  /** The element that scrolls. */
  box: RefObject<HTMLDivElement | null>;
  rows: number;
  columns: number;
  onSelect?: (selection: Selection) => void;
}

/** useSelection holds which cells are selected, and which one is in hand or being typed in. */
export function useSelection({ box, rows, columns, onSelect }: Wanted) {
  const [selection, setSelection] = useState<Selection>({ anchor: { row: 0, column: 0 }, head: { row: 0, column: 0 } });
  const [editing, setEditing] = useState(false);
  const focusWanted = useRef(false);

  const select = useCallback(
    (next: Selection, focus = true) => {
      focusWanted.current = focus;
      setEditing(false);
      setSelection(next);
      onSelect?.(next);
    },
    [onSelect],
  );
  const clamp = (place: Place): Place => ({
    row: Math.max(0, Math.min(rows - 1, place.row)),
    column: Math.max(0, Math.min(columns - 1, place.column)),
  });
  /** Brings a cell into view and selects it, or all up to it. */
  const goTo = (place: Place, extend = false, focus = true) => {
    const to = clamp(place);
    if (box.current) reveal(box.current, to);
    select({ anchor: extend ? selection.anchor : to, head: to }, focus);
  };

  // The input of the cell in hand takes the focus once it is there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: after every change of place
  useEffect(() => {
    const input = focusWanted.current && box.current?.querySelector<HTMLInputElement>("input[data-active]");
    if (!input || document.activeElement === input) return;
    input.focus({ preventScroll: true });
    input.select();
    // The table has scrolled to it; the page may have to as well.
    const { top, bottom } = input.getBoundingClientRect();
    const above = top - pageHead;
    const below = bottom + 8 - innerHeight;
    if (above < 0) scrollBy(0, above);
    else if (below > 0) scrollBy(0, below);
  }, [selection, editing]);

  return { selection, range: rangeOf(selection), active: selection.head, editing, setEditing, select, goTo, clamp };
}

/** reveal scrolls the table as far as a cell needs to be in view. */
function reveal(grid: HTMLElement, place: Place) {
  const head = grid.querySelector<HTMLElement>("[data-head]")?.offsetHeight ?? 0;
  const top = place.row * rowHeight;
  if (top < grid.scrollTop) grid.scrollTop = top;
  else if (top + rowHeight + head > grid.scrollTop + grid.clientHeight - 14)
    grid.scrollTop = top + rowHeight + head - grid.clientHeight + 14;
  const left = place.column * columnWidth;
  if (left < grid.scrollLeft) grid.scrollLeft = left;
  else if (left + columnWidth + rowHeadWidth > grid.scrollLeft + grid.clientWidth)
    grid.scrollLeft = left + columnWidth + rowHeadWidth - grid.clientWidth;
}
