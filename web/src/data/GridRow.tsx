import type { VirtualItem } from "@tanstack/react-virtual";
import { useSheet } from "./context";
import { columnWidth, rowHeadWidth, rowHeight } from "./gridSize";
import { cellText, shownText } from "./gridText";
import { inside, rangeOf, type Selection, single } from "./selection";
import { isDerived } from "./sheet";

interface Props {
  /** The row of the sheet, and its place in the view. */
  row: number;
  index: number;
  start: number;
  width: number;
  columns: VirtualItem[];
  selection: Selection;
  found?: ReadonlySet<string>;
  /** Why the row is left out; undefined where it is not. */
  leftOut?: string;
  onHead: (extend: boolean) => void;
  onPress: (column: number, extend: boolean) => void;
  onEnter: (column: number) => void;
  onType: (text: string, before: string) => void;
  onEdit: (input: HTMLInputElement) => void;
}

/** GridRow is a row of the table: its number, and its cells as far as they are in view. */
export function GridRow({ row, index, start, width, columns, selection, found, leftOut, ...on }: Props) {
  const { sheet, derived, profiles, wrong, shared } = useSheet();
  const range = rangeOf(selection);
  const active = selection.head;
  const headed = selection.whole !== "columns" && index >= range.top && index <= range.bottom;
  return (
    // biome-ignore lint/a11y/useSemanticElements: a table element cannot draw only the rows in view
    // biome-ignore lint/a11y/useFocusableInteractive: its cells are
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`absolute left-0 flex ${leftOut === undefined ? "" : "text-muted line-through"}`}
      style={{ height: rowHeight, width, transform: `translateY(${start}px)` }}
    >
      {/* biome-ignore lint/a11y/useSemanticElements: as above */}
      {/* biome-ignore lint/a11y/useFocusableInteractive: Shift and an arrow select rows by key */}
      <span
        role="rowheader"
        aria-colindex={1}
        className={`sticky left-0 z-10 shrink-0 cursor-pointer select-none border-base-300 border-r border-b bg-base-200 pr-2 text-right text-[0.86rem] leading-[27px] ${
          headed ? "font-semibold text-ink" : "text-muted"
        }`}
        style={{ width: rowHeadWidth }}
        title={leftOut === undefined ? undefined : `Left out: ${leftOut || "no reason given"}`}
        onPointerDown={(event) => {
          event.preventDefault();
          on.onHead(event.shiftKey);
        }}
      >
        {row + 1}
      </span>
      {columns.map((item) => {
        const column = sheet.columns[item.index];
        if (!column) return null;
        const isActive = active.row === index && active.column === item.index;
        const kind = column.kind || profiles.get(column.key)?.kind;
        const text = cellText(sheet, derived, row, item.index);
        const mistake = wrong.get(`${column.key}/${row}`);
        const chosen = !single(selection) && inside(range, index, item.index);
        const look = `${kind === "number" ? "text-right" : ""} ${isDerived(column) ? "italic" : ""} ${
          mistake ? "bg-region/15 text-(--region-text) underline decoration-wavy" : ""
        }`;
        return (
          // biome-ignore lint/a11y/useSemanticElements: as above
          // biome-ignore lint/a11y/useFocusableInteractive: the cell in hand holds an input
          <div
            key={column.key}
            role="gridcell"
            aria-colindex={item.index + 2}
            aria-selected={chosen || isActive}
            aria-invalid={mistake !== undefined}
            title={mistake}
            data-cell={`${row}/${item.index}`}
            className={`absolute top-0 overflow-hidden border-base-300 border-r border-b ${chosen ? "bg-primary/15" : ""} ${
              found?.has(`${row}/${item.index}`) ? "bg-expected/25" : ""
            } ${look}`}
            style={{ left: rowHeadWidth + item.start, width: columnWidth, height: rowHeight }}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              if (isActive && !event.shiftKey) return; // the caret is placed in its input
              event.preventDefault();
              on.onPress(item.index, event.shiftKey);
            }}
            onPointerEnter={() => on.onEnter(item.index)}
          >
            {isActive ? (
              <input
                data-active="true"
                aria-label={`${column.name || `column ${item.index + 1}`}, row ${row + 1}`}
                readOnly={shared || isDerived(column)}
                className={`absolute inset-0 bg-base-100 px-2 outline-none ring-2 ring-primary ring-inset ${look}`}
                value={text}
                onChange={(event) => on.onType(event.target.value, text)}
                onDoubleClick={(event) => on.onEdit(event.currentTarget)}
              />
            ) : (
              <span className="block truncate px-2 leading-[27px]">{shownText(column, kind, text)}</span>
            )}
          </div>
        );
      })}
    </div>
  );
}
