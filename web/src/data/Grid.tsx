import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState } from "react";
import { whole } from "../lib/words";
import { ColumnHeader } from "./ColumnHeader";
import { useSheet } from "./context";
import { cellText, edgeOf, moveOf, shownText, sortedRows } from "./gridText";
import { inside, type Place, rangeOf, type Selection, single } from "./selection";
import { cellAt, isDerived, rowsOf, type Sheet, setColumn, withCells, withoutRows, withRows } from "./sheet";

export const rowHeight = 28;
const columnWidth = 120;
const rowHeadWidth = 52;
/** How much of the page its head covers. */
const pageHead = 64;
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
  selection: () => Selection;
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

export interface Sort {
  key: number;
  down: boolean;
}

/** What was copied last inside the application, so that it pastes without questions. */
let ownCopy = "";

/** Grid is the table in which data are seen, typed, pasted and corrected. */
export function Grid(props: Props) {
  const { sheet, change, undo, redo, derived, profiles, wrong } = useSheet();
  const box = useRef<HTMLDivElement>(null);
  const [selection, setSelection] = useState<Selection>({ anchor: { row: 0, column: 0 }, head: { row: 0, column: 0 } });
  const [editing, setEditing] = useState(false);
  const before = useRef("");
  const focusWanted = useRef(false);
  const dragging = useRef(false);
  const filled = rowsOf(sheet);
  const rows = filled + spare;
  // Typing in a sorted view leaves the rows where they are until it is sorted again.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  const order = useMemo(
    () => (props.sort ? sortedRows(sheet, derived, props.sort, filled) : undefined),
    [props.sort, filled],
  );
  const dataRow = (row: number) => order?.[row] ?? row;
  const active = selection.head;
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 10,
    scrollPaddingStart: 0,
    rangeExtractor: (range) => {
      const seen: number[] = [];
      const from = Math.max(0, range.startIndex - range.overscan);
      const to = Math.min(range.count - 1, range.endIndex + range.overscan);
      for (let i = from; i <= to; i++) seen.push(i);
      if (active.row < from) seen.unshift(active.row); // so that the cell in hand keeps the focus
      if (active.row > to && active.row < range.count) seen.push(active.row);
      return seen;
    },
  });
  const across = useVirtualizer({
    horizontal: true,
    count: sheet.columns.length,
    getScrollElement: () => box.current,
    estimateSize: () => columnWidth,
    overscan: 4,
  });
  const range = rangeOf(selection);

  const select = useCallback(
    (next: Selection, focus = true) => {
      focusWanted.current = focus;
      setEditing(false);
      setSelection(next);
      props.onSelect?.(next);
    },
    [props.onSelect],
  );
  const clamp = (place: Place): Place => ({
    row: Math.max(0, Math.min(rows - 1, place.row)),
    column: Math.max(0, Math.min(sheet.columns.length - 1, place.column)),
  });
  const reveal = (place: Place) => {
    const grid = box.current;
    if (!grid) return;
    const head = grid.querySelector<HTMLElement>("[data-head]")?.offsetHeight ?? 0;
    const top = place.row * rowHeight;
    if (top < grid.scrollTop) grid.scrollTop = top;
    else if (top + rowHeight + head > grid.scrollTop + grid.clientHeight - 14)
      grid.scrollTop = top + rowHeight + head - grid.clientHeight + 14;
    const left = place.column * columnWidth;
    if (left < grid.scrollLeft) grid.scrollLeft = left;
    else if (left + columnWidth + rowHeadWidth > grid.scrollLeft + grid.clientWidth)
      grid.scrollLeft = left + columnWidth + rowHeadWidth - grid.clientWidth;
  };
  const goTo = (place: Place, extend = false, focus = true) => {
    const to = clamp(place);
    reveal(to);
    select({ anchor: extend ? selection.anchor : to, head: to }, focus);
  };
  const shownPlace = (row: number, column: number): Place => ({ row: order ? order.indexOf(row) : row, column });

  // The input of the cell in hand takes the focus once it is there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: after every change of place
  useEffect(() => {
    if (!focusWanted.current) return;
    const input = box.current?.querySelector<HTMLInputElement>("input[data-active]");
    if (input && document.activeElement !== input) {
      input.focus({ preventScroll: true });
      input.select();
      // The table has scrolled to it; the page may have to as well.
      const { top, bottom } = input.getBoundingClientRect();
      const above = top - pageHead;
      const below = bottom + 8 - innerHeight;
      if (above < 0) scrollBy(0, above);
      else if (below > 0) scrollBy(0, below);
    }
  }, [selection, editing]);

  const type = (place: Place, text: string) => {
    const row = dataRow(place.row);
    const name = sheet.columns[place.column]?.name || `column ${place.column + 1}`;
    change(`type in ${name}, row ${row + 1}`, (s) => setColumn(s, place.column, (c) => withCells(c, row, [text])));
  };

  /** eachCell changes every cell of the selected range that can be typed in. */
  const eachCell = (says: string, next: (row: number, column: number) => string | undefined) =>
    change(says, (s) => {
      let result: Sheet = s;
      const bottom = Math.min(range.bottom, selection.whole === "columns" ? filled - 1 : range.bottom);
      for (let column = range.left; column <= range.right; column++) {
        const of = s.columns[column];
        if (!of || isDerived(of)) continue;
        result = setColumn(result, column, (c) => {
          let changed = c;
          if (!order) {
            const cells: string[] = [];
            for (let row = range.top; row <= bottom; row++) cells.push(next(row, column) ?? cellAt(of, row));
            changed = withCells(c, range.top, cells);
          } else {
            for (let row = range.top; row <= bottom; row++) {
              const cell = next(row, column);
              if (cell !== undefined) changed = withCells(changed, dataRow(row), [cell]);
            }
          }
          return changed;
        });
      }
      return result;
    });
  const clear = () => eachCell(single(selection) ? "clear a cell" : "clear cells", () => "");
  const fillDown = () => eachCell("fill down", (_, column) => cellAt(sheet.columns[column], dataRow(range.top)));
  const selectedRows = () => {
    const set = new Set<number>();
    for (let row = range.top; row <= Math.min(range.bottom, filled - 1); row++) set.add(dataRow(row));
    return set;
  };
  const insertRows = () => {
    const count = range.bottom - range.top + 1;
    change(count === 1 ? "insert a row" : `insert ${count} rows`, (s) => withRows(s, dataRow(range.top), count));
  };
  const deleteRows = () => {
    const gone = selectedRows();
    if (gone.size > 0)
      change(gone.size === 1 ? "delete a row" : `delete ${gone.size} rows`, (s) => withoutRows(s, gone));
  };
  const textOfRange = () => {
    const lines: string[] = [];
    const bottom = selection.whole === "columns" ? filled - 1 : range.bottom;
    for (let row = range.top; row <= bottom; row++) {
      const cells: string[] = [];
      for (let column = range.left; column <= range.right; column++)
        cells.push(cellText(sheet, derived, dataRow(row), column));
      lines.push(cells.join("\t"));
    }
    return lines.join("\n");
  };
  useImperativeHandle(props.ref, () => ({
    go: (row, column) => goTo(shownPlace(row, column)),
    show: (row, column) => goTo(shownPlace(row, column), false, false),
    fillDown,
    insertRows,
    deleteRows,
    selection: () => selection,
  }));

  const onKeyDown = (event: React.KeyboardEvent<HTMLDivElement>) => {
    const input = event.target instanceof HTMLInputElement && event.target.dataset.active ? event.target : undefined;
    if (!input) return;
    const chord = event.ctrlKey || event.metaKey;
    const act = (what: () => void) => {
      event.preventDefault();
      what();
    };
    if (chord) {
      const commands: Record<string, () => void> = {
        z: event.shiftKey ? redo : undo,
        y: redo,
        d: fillDown,
        f: props.onFind,
        a: () => {
          select({
            anchor: { row: 0, column: 0 },
            head: { row: Math.max(0, filled - 1), column: sheet.columns.length - 1 },
          });
        },
      };
      const command = commands[event.key] ?? commands[event.key.toLowerCase()];
      if (command) return act(command);
      if (event.key === "Home") return act(() => goTo({ row: 0, column: 0 }, event.shiftKey));
      if (event.key === "End")
        return act(() => goTo({ row: Math.max(0, filled - 1), column: sheet.columns.length - 1 }, event.shiftKey));
      if (event.key.startsWith("Arrow"))
        return act(() => goTo(edgeOf(sheet, derived, active, event.key, filled, dataRow), event.shiftKey));
      return;
    }
    if (event.altKey) {
      if (event.key === "Insert") act(insertRows);
      if (event.key === "Delete") act(deleteRows);
      return;
    }
    if (event.key === "Escape") {
      if (editing) {
        type(active, before.current);
        setEditing(false);
      } else box.current?.focus();
      return act(() => {});
    }
    if (event.key === "F2") return act(() => startEditing(input));
    if ((event.key === "Delete" || event.key === "Backspace") && !editing && !single(selection)) return act(clear);
    if (event.key === "Delete" && !editing) return act(clear);
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / rowHeight) - 3);
    const move = moveOf(event, input, editing, page, sheet.columns.length, active);
    if (!move) return;
    act(() => {
      if (event.shiftKey && event.key.startsWith("Arrow"))
        goTo({ row: active.row + move.row, column: active.column + move.column }, true);
      else
        goTo(
          { row: active.row + move.row, column: active.column + move.column },
          event.shiftKey && (event.key === "Home" || event.key === "End" || event.key.startsWith("Page")),
        );
    });
  };
  const startEditing = (input: HTMLInputElement) => {
    before.current = input.value;
    setEditing(true);
    requestAnimationFrame(() => input.setSelectionRange(input.value.length, input.value.length));
  };
  /** Whether an event is the table's own, not one of a panel that was opened from it. */
  const own = (event: React.SyntheticEvent) => box.current?.contains(event.target as Node) ?? false;
  const onCopy = (event: React.ClipboardEvent, cut: boolean) => {
    if (editing || !own(event)) return; // a part of the cell's own text
    event.preventDefault();
    ownCopy = textOfRange();
    event.clipboardData.setData("text/plain", ownCopy);
    if (cut) eachCell("cut", () => "");
  };
  const onPaste = (event: React.ClipboardEvent) => {
    const text = event.clipboardData.getData("text/plain");
    if (!own(event) || (editing && !/[\t\n]/.test(text))) return;
    event.preventDefault();
    const at = { row: range.top, column: range.left };
    if (!/[\t\n]/.test(text.trimEnd())) {
      const cell = text.trimEnd();
      eachCell("paste", () => cell);
      return;
    }
    if (text !== ownCopy) return props.onBlock(text, at);
    const lines = text.split("\n").map((line) => line.split("\t"));
    change("paste", (s) => {
      let next = s;
      lines[0]?.forEach((_, i) => {
        const column = at.column + i;
        const of = next.columns[column];
        if (!of || isDerived(of)) return;
        lines.forEach((line, j) => {
          next = setColumn(next, column, (c) => withCells(c, dataRow(at.row + j), [line[i] ?? ""]));
        });
      });
      return next;
    });
    select({
      anchor: at,
      head: clamp({ row: at.row + lines.length - 1, column: at.column + (lines[0]?.length ?? 1) - 1 }),
    });
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
      onCopy={(event) => onCopy(event, false)}
      onCut={(event) => onCopy(event, true)}
      onPaste={onPaste}
      onPointerUp={() => {
        dragging.current = false;
      }}
      onPointerLeave={() => {
        dragging.current = false;
      }}
    >
      {/* biome-ignore lint/a11y/useSemanticElements: as above */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: its cells are */}
      <div
        role="row"
        aria-rowindex={1}
        data-head
        className="sticky top-0 z-20 flex border-base-300 border-b bg-base-200"
        style={{ width }}
      >
        {/* biome-ignore lint/a11y/useSemanticElements: as above */}
        {/* biome-ignore lint/a11y/useFocusableInteractive: nothing is done here */}
        <span
          role="columnheader"
          aria-colindex={1}
          aria-label={`Row, of ${filled}`}
          className="sticky left-0 z-10 grid shrink-0 content-end justify-items-end border-base-300 border-r bg-base-200 px-1.5 pb-0.5 text-[0.86rem] text-muted leading-tight"
          style={{ width: rowHeadWidth }}
        >
          <span>{whole(filled)}</span>
          <span>{filled === 1 ? "row" : "rows"}</span>
        </span>
        <div className="relative" style={{ width: across.getTotalSize() }}>
          {columns.map(({ index, start }) => {
            const column = sheet.columns[index];
            if (!column) return null;
            return (
              <div
                key={column.key}
                className="top-0 h-full"
                style={{
                  position: index === columns[0]?.index ? "relative" : "absolute",
                  left: start,
                  width: columnWidth,
                }}
              >
                <ColumnHeader
                  at={index}
                  column={column}
                  selected={props.looked?.includes(column.key) ?? false}
                  sort={props.sort?.key === column.key ? props.sort : undefined}
                  onSort={props.onSort}
                  onSelect={(add) => {
                    select(
                      {
                        anchor: { row: 0, column: index },
                        head: { row: Math.max(0, filled - 1), column: index },
                        whole: "columns",
                      },
                      false,
                    );
                    props.onLook?.(column.key, add);
                  }}
                  onGo={(row) => goTo({ row: order ? order.indexOf(row) : row, column: index })}
                />
              </div>
            );
          })}
        </div>
      </div>
      <div className="relative" style={{ height: virtual.getTotalSize(), width }}>
        {virtual.getVirtualItems().map((item) => {
          const row = dataRow(item.index);
          const out = props.leftOut?.get(row);
          return (
            // biome-ignore lint/a11y/useSemanticElements: as above
            // biome-ignore lint/a11y/useFocusableInteractive: its cells are
            <div
              key={item.key}
              role="row"
              aria-rowindex={item.index + 2}
              className={`absolute left-0 flex ${out === undefined ? "" : "text-muted line-through"}`}
              style={{ height: rowHeight, width, transform: `translateY(${item.start}px)` }}
            >
              {/* biome-ignore lint/a11y/useSemanticElements: as above */}
              {/* biome-ignore lint/a11y/useFocusableInteractive: Shift and an arrow select rows by key */}
              <span
                role="rowheader"
                aria-colindex={1}
                className={`sticky left-0 z-10 shrink-0 cursor-pointer select-none border-base-300 border-r border-b bg-base-200 pr-2 text-right text-[0.86rem] leading-[27px] ${
                  selection.whole !== "columns" && item.index >= range.top && item.index <= range.bottom
                    ? "font-semibold text-ink"
                    : "text-muted"
                }`}
                style={{ width: rowHeadWidth }}
                title={out === undefined ? undefined : `Left out: ${out || "no reason given"}`}
                onPointerDown={(event) => {
                  event.preventDefault();
                  select({
                    anchor: { row: event.shiftKey ? selection.anchor.row : item.index, column: 0 },
                    head: { row: item.index, column: sheet.columns.length - 1 },
                    whole: "rows",
                  });
                }}
              >
                {row + 1}
              </span>
              {columns.map(({ index, start }) => {
                const column = sheet.columns[index];
                if (!column) return null;
                const isActive = active.row === item.index && active.column === index;
                const kind = column.kind || profiles.get(column.key)?.kind;
                const text = cellText(sheet, derived, row, index);
                const mistake = wrong.get(`${column.key}/${row}`);
                const chosen = !single(selection) && inside(range, item.index, index);
                const look = `${kind === "number" ? "text-right" : ""} ${isDerived(column) ? "italic" : ""} ${
                  mistake ? "bg-region/15 text-(--region-text) underline decoration-wavy" : ""
                }`;
                return (
                  // biome-ignore lint/a11y/useSemanticElements: as above
                  // biome-ignore lint/a11y/useFocusableInteractive: the cell in hand holds an input
                  <div
                    key={column.key}
                    role="gridcell"
                    aria-colindex={index + 2}
                    aria-selected={chosen || isActive}
                    aria-invalid={mistake !== undefined}
                    title={mistake}
                    data-cell={`${row}/${index}`}
                    className={`absolute top-0 overflow-hidden border-base-300 border-r border-b ${chosen ? "bg-primary/15" : ""} ${
                      props.found?.has(`${row}/${index}`) ? "bg-expected/25" : ""
                    } ${look}`}
                    style={{ left: rowHeadWidth + start, width: columnWidth, height: rowHeight }}
                    onPointerDown={(event) => {
                      if (event.button !== 0) return;
                      if (isActive && !event.shiftKey) return; // the caret is placed in its input
                      event.preventDefault();
                      dragging.current = true;
                      const to = { row: item.index, column: index };
                      select({ anchor: event.shiftKey ? selection.anchor : to, head: to });
                    }}
                    onPointerEnter={() => {
                      if (dragging.current)
                        select({ anchor: selection.anchor, head: { row: item.index, column: index } });
                    }}
                  >
                    {isActive ? (
                      <input
                        data-active="true"
                        aria-label={`${column.name || `column ${index + 1}`}, row ${row + 1}`}
                        readOnly={isDerived(column)}
                        className={`absolute inset-0 bg-base-100 px-2 outline-none ring-2 ring-primary ring-inset ${look}`}
                        value={text}
                        onChange={(event) => {
                          if (!editing) {
                            before.current = text;
                            setEditing(true);
                          }
                          type(active, event.target.value);
                        }}
                        onDoubleClick={(event) => startEditing(event.currentTarget)}
                      />
                    ) : (
                      <span className="block truncate px-2 leading-[27px]">{shownText(column, kind, text)}</span>
                    )}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}
