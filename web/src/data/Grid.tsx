import { useVirtualizer } from "@tanstack/react-virtual";
import { useImperativeHandle, useMemo, useRef } from "react";
import { useSheet } from "./context";
import { GridHead } from "./GridHead";
import { GridRow } from "./GridRow";
import { columnWidth, rowHeadWidth, rowHeight } from "./gridSize";
import { edgeOf, moveOf } from "./gridText";
import { dataRow, type Place, rowsIn, type Selection, single, type View, withEachCell } from "./selection";
import { cellAt, rowsOf, setColumn, withCells, withoutRows, withRows } from "./sheet";
import { type Sort, sortedRows } from "./sort";
import { useClipboard } from "./useClipboard";
import { useSelection } from "./useSelection";

/** Blank rows that always stand below the last one filled. */
const spare = 12;

/** What the tools above the grid do in it. */
export interface GridHandle {
  go: (row: number, column: number) => void;
  /** Like go, without taking the focus. */
  show: (row: number, column: number) => void;
  fillDown: () => void;
  insertRows: () => void;
  deleteRows: () => void;
}

interface Props {
  ref?: React.Ref<GridHandle>;
  /** A block of several cells that was pasted from elsewhere. */
  onBlock: (text: string, at: Place) => void;
  onFind: () => void;
  /** The columns that are looked at, by key. */
  looked?: readonly number[];
  onLook?: (column: number, add: boolean) => void;
  /** Rows that are left out, with the reason. */
  leftOut?: ReadonlyMap<number, string>;
  /** Cells that are found, by `row/column`. */
  found?: ReadonlySet<string>;
  sort?: Sort;
  onSort?: (sort: Sort | undefined) => void;
  onSelect?: (selection: Selection) => void;
  height: string;
}

/** Grid is the table in which data are seen, typed, pasted and corrected. */
export function Grid(props: Props) {
  const { sheet, change, undo, redo, derived, shared } = useSheet();
  const box = useRef<HTMLDivElement>(null);
  const before = useRef("");
  const begun = useRef<Place | undefined>(undefined); // where the row in hand was begun, once Tab leads on from there
  const dragging = useRef(false);
  const filled = rowsOf(sheet);
  const rows = filled + (shared ? 0 : spare);
  // Typing in a sorted view leaves the rows where they are until it is sorted again.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  const view = useMemo<View>(
    () => ({ filled, order: props.sort && sortedRows(sheet, derived, props.sort, filled) }),
    [props.sort, filled],
  );
  const lastColumn = sheet.columns.length - 1;
  const marked = useSelection({ box, rows, columns: sheet.columns.length, onSelect: props.onSelect });
  const { selection, range, active, editing, setEditing, select, goTo } = marked;
  const clipboard = useClipboard({ box, view, onBlock: props.onBlock, ...marked });
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 10,
    rangeExtractor: (seen) => {
      const from = Math.max(0, seen.startIndex - seen.overscan);
      const to = Math.min(seen.count - 1, seen.endIndex + seen.overscan);
      const drawn = Array.from({ length: to - from + 1 }, (_, i) => from + i);
      if (active.row < from) drawn.unshift(active.row); // so that the cell in hand keeps the focus
      if (active.row > to && active.row < seen.count) drawn.push(active.row);
      return drawn;
    },
  });
  const across = useVirtualizer({
    horizontal: true,
    count: sheet.columns.length,
    getScrollElement: () => box.current,
    estimateSize: () => columnWidth,
    overscan: 4,
  });
  const shownPlace = (row: number, column: number): Place => ({
    row: view.order ? view.order.indexOf(row) : row,
    column,
  });

  const type = (place: Place, text: string) => {
    const row = dataRow(view, place.row);
    const name = sheet.columns[place.column]?.name || `column ${place.column + 1}`;
    change(`type in ${name}, row ${row + 1}`, (s) => setColumn(s, place.column, (c) => withCells(c, row, [text])));
  };
  const clear = () =>
    change(single(selection) ? "clear a cell" : "clear cells", (s) => withEachCell(s, selection, view, () => ""));
  const fillDown = () => {
    const first = dataRow(view, range.top);
    change("fill down", (s) => withEachCell(s, selection, view, (column) => cellAt(s.columns[column], first)));
  };
  const insertRows = () => {
    const count = range.bottom - range.top + 1;
    const at = dataRow(view, range.top);
    change(count === 1 ? "insert a row" : `insert ${count} rows`, (s) => withRows(s, at, count));
  };
  const deleteRows = () => {
    const gone = rowsIn(selection, view);
    if (gone.size === 0) return;
    change(gone.size === 1 ? "delete a row" : `delete ${gone.size} rows`, (s) => withoutRows(s, gone));
  };
  useImperativeHandle(props.ref, () => ({
    go: (row, column) => goTo(shownPlace(row, column)),
    show: (row, column) => goTo(shownPlace(row, column), false, false),
    fillDown,
    insertRows,
    deleteRows,
  }));

  const startEditing = (input: HTMLInputElement) => {
    before.current = input.value;
    setEditing(true);
    requestAnimationFrame(() => input.setSelectionRange(input.value.length, input.value.length));
  };
  const last = { row: Math.max(0, filled - 1), column: lastColumn };
  /** What a key does together with Ctrl; nothing where it is left to the browser. */
  const chordOf = (event: React.KeyboardEvent): (() => void) | undefined => {
    if (event.key.startsWith("Arrow"))
      return () =>
        goTo(
          edgeOf(sheet, derived, active, event.key, filled, (row) => dataRow(view, row)),
          event.shiftKey,
        );
    switch (event.key.length === 1 ? event.key.toLowerCase() : event.key) {
      case "z":
        return event.shiftKey ? redo : undo;
      case "y":
        return redo;
      case "d":
        return fillDown;
      case "f":
        return props.onFind;
      case "a":
        return () => select({ anchor: { row: 0, column: 0 }, head: last });
      case "Home":
        return () => goTo({ row: 0, column: 0 }, event.shiftKey);
      case "End":
        return () => goTo(last, event.shiftKey);
    }
    return undefined;
  };
  /** What a key does by itself. */
  const keyOf = (event: React.KeyboardEvent, input: HTMLInputElement): (() => void) | undefined => {
    switch (event.key) {
      case "Escape":
        if (!editing) return () => box.current?.focus();
        return () => {
          type(active, before.current);
          setEditing(false);
        };
      case "F2":
        return () => startEditing(input);
      case "Delete":
        if (!editing) return clear;
        break;
      case "Backspace":
        if (!editing && !single(selection)) return clear;
        break;
    }
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / rowHeight) - 3);
    const move = moveOf(event, input, editing, page, sheet.columns.length, active, begun.current);
    if (!move) return undefined;
    if (event.key === "Enter" && !event.shiftKey && begun.current?.row === active.row)
      begun.current = { row: active.row + 1, column: begun.current.column };
    else if (event.key !== "Tab") begun.current = undefined;
    else if (begun.current?.row !== active.row) begun.current = active;
    const extends_ = event.shiftKey && /^(Arrow|Home|End|Page)/.test(event.key);
    return () => goTo({ row: active.row + move.row, column: active.column + move.column }, extends_);
  };
  const onKeyDown = (event: React.KeyboardEvent<HTMLDivElement>) => {
    if (!(event.target instanceof HTMLInputElement && event.target.dataset.active)) return;
    let act: (() => void) | undefined;
    if (event.ctrlKey || event.metaKey) act = chordOf(event);
    else if (event.altKey) act = { Insert: insertRows, Delete: deleteRows }[event.key];
    else act = keyOf(event, event.target);
    if (!act) return;
    event.preventDefault();
    act();
  };
  const stopDragging = () => {
    dragging.current = false;
  };

  const width = rowHeadWidth + across.getTotalSize();
  const columns = across.getVirtualItems();
  return (
    // biome-ignore lint/a11y/useSemanticElements: a table element cannot draw only the rows in view
    <div
      ref={box}
      role="grid"
      aria-label="Data"
      aria-rowcount={rows + 1}
      aria-colcount={sheet.columns.length + 1}
      tabIndex={-1}
      className="relative overflow-auto rounded-field border border-base-300 bg-sheet outline-none"
      style={{ height: props.height }}
      onKeyDown={onKeyDown}
      {...clipboard}
      onPointerUp={stopDragging}
      onPointerLeave={stopDragging}
    >
      <GridHead
        columns={columns}
        width={across.getTotalSize()}
        filled={filled}
        looked={props.looked}
        sort={props.sort}
        onSort={props.onSort}
        onGo={(row, column) => goTo(shownPlace(row, column))}
        onSelect={(index, add) => {
          const whole = { row: last.row, column: index };
          select({ anchor: { row: 0, column: index }, head: whole, whole: "columns" }, false);
          const key = sheet.columns[index]?.key;
          if (key !== undefined) props.onLook?.(key, add);
        }}
      />
      <div className="relative" style={{ height: virtual.getTotalSize(), width }}>
        {virtual.getVirtualItems().map((item) => {
          const row = dataRow(view, item.index);
          return (
            <GridRow
              key={item.key}
              row={row}
              index={item.index}
              start={item.start}
              width={width}
              columns={columns}
              selection={selection}
              found={props.found}
              leftOut={props.leftOut?.get(row)}
              onHead={(extend) =>
                select({
                  anchor: { row: extend ? selection.anchor.row : item.index, column: 0 },
                  head: { row: item.index, column: lastColumn },
                  whole: "rows",
                })
              }
              onPress={(column, extend) => {
                begun.current = undefined;
                dragging.current = true;
                const to = { row: item.index, column };
                select({ anchor: extend ? selection.anchor : to, head: to });
              }}
              onEnter={(column) => {
                if (dragging.current) select({ anchor: selection.anchor, head: { row: item.index, column } });
              }}
              onType={(text, old) => {
                if (!editing) {
                  before.current = old;
                  setEditing(true);
                }
                type(active, text);
              }}
              onEdit={startEditing}
            />
          );
        })}
      </div>
    </div>
  );
}
