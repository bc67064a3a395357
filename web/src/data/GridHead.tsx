import type { VirtualItem } from "@tanstack/react-virtual";
import { whole } from "../lib/words";
import { ColumnHeader } from "./ColumnHeader";
import { useSheet } from "./context";
import { columnWidth, rowHeadWidth } from "./gridSize";
import type { Sort } from "./sort";

interface Props {
  /** The columns in view, and the width of all. */
  columns: VirtualItem[];
  width: number;
  filled: number;
  looked?: readonly number[];
  sort?: Sort;
  onSort?: (sort: Sort | undefined) => void;
  onSelect: (column: number, add: boolean) => void;
  onGo: (row: number, column: number) => void;
}

/** GridHead is the row of the columns' headers, which stays in view. */
export function GridHead({ columns, width, filled, looked, sort, onSort, onSelect, onGo }: Props) {
  const { sheet } = useSheet();
  return (
    // biome-ignore lint/a11y/useSemanticElements: a table element cannot draw only the columns in view
    // biome-ignore lint/a11y/useFocusableInteractive: its cells are
    <div
      role="row"
      aria-rowindex={1}
      data-head
      className="sticky top-0 z-20 flex border-base-300 border-b bg-base-200"
      style={{ width: rowHeadWidth + width }}
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
      <div className="relative" style={{ width }}>
        {columns.map(({ index, start }) => {
          const column = sheet.columns[index];
          if (!column) return null;
          const position = index === columns[0]?.index ? "relative" : "absolute";
          return (
            <div key={column.key} className="top-0 h-full" style={{ position, left: start, width: columnWidth }}>
              <ColumnHeader
                at={index}
                column={column}
                selected={looked?.includes(column.key) ?? false}
                sort={sort?.key === column.key ? sort : undefined}
                onSort={onSort}
                onSelect={(add) => onSelect(index, add)}
                onGo={(row) => onGo(row, index)}
              />
            </div>
          );
        })}
      </div>
    </div>
  );
}
