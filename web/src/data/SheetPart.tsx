import { useEffect, useRef, useState } from "react";

interface Corner {
  row: number;
  column: number;
}

interface Props {
  /** The first rows of the table as they stand there. */
  top: string[][];
  /** The part that is read, as B3:F40; all of it when empty. */
  range: string;
  onRange: (range: string) => void;
}

/** letters names a column as spreadsheets do: A, B, … Z, AA. */
function letters(column: number): string {
  const last = String.fromCharCode(65 + (column % 26));
  return column < 26 ? last : letters(Math.floor(column / 26) - 1) + last;
}

/** placeOf reads a corner such as B3, or B, which names no row. */
function placeOf(text: string | undefined): { row: number | undefined; column: number } | undefined {
  const [, word, digits] = text?.trim().match(/^([A-Za-z]{1,3})(\d*)$/) ?? [];
  if (word === undefined) return undefined;
  const column = [...word.toUpperCase()].reduce((sum, letter) => 26 * sum + letter.charCodeAt(0) - 64, 0) - 1;
  return { column, row: digits ? Number(digits) - 1 : undefined };
}

/** between returns the part that lies between two corners. */
const between = (one: Corner, other: Corner) => ({
  top: Math.min(one.row, other.row),
  bottom: Math.max(one.row, other.row),
  left: Math.min(one.column, other.column),
  right: Math.max(one.column, other.column),
});

/** SheetPart shows the beginning of a spreadsheet's table; dragging over it, or Shift with the arrows, chooses the part that is read. */
export function SheetPart({ top, range, onRange }: Props) {
  const width = Math.max(1, ...top.map((row) => row.length));
  const [first, last] = range.split(":");
  const [from, to] = [placeOf(first), placeOf(last ?? first)];
  const [anchor, setAnchor] = useState<Corner>();
  const [head, setHead] = useState<Corner>({ row: from?.row ?? 0, column: from?.column ?? 0 });
  const [dragging, setDragging] = useState(false);
  const table = useRef<HTMLTableElement>(null);
  const focusWanted = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: after every change of place
  useEffect(() => {
    if (focusWanted.current) table.current?.querySelector<HTMLElement>("[tabindex='0']")?.focus();
  }, [head]);
  const chosen = anchor
    ? between(anchor, head)
    : {
        top: from?.row ?? 0,
        bottom: to?.row ?? top.length - 1,
        left: from?.column ?? 0,
        right: to?.column ?? width - 1,
      };
  const latest = useRef(head); // the mouse may be let go before the last move is drawn
  const move = (to: Corner) => {
    latest.current = to;
    setHead(to);
  };
  const take = () => {
    setDragging(false);
    if (!anchor) return;
    const part = between(anchor, latest.current);
    // A choice that reaches the last row in view goes on to the end of the table.
    const end = part.bottom >= top.length - 1 ? "" : part.bottom + 1;
    onRange(`${letters(part.left)}${part.top + 1}:${letters(part.right)}${end}`);
    setAnchor(undefined);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const by = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[event.key];
    if (event.key === "Enter" && anchor) {
      event.preventDefault();
      return take();
    }
    if (!by) return;
    event.preventDefault();
    focusWanted.current = true;
    setAnchor(event.shiftKey ? (anchor ?? head) : undefined);
    move({
      row: Math.max(0, Math.min(top.length - 1, head.row + (by[0] ?? 0))),
      column: Math.max(0, Math.min(width - 1, head.column + (by[1] ?? 0))),
    });
  };
  return (
    <div className="grid gap-1">
      <div className="max-h-60 overflow-auto rounded-field border border-base-300 bg-sheet">
        <table
          ref={table}
          // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a table whose cells are chosen is a grid
          role="grid"
          aria-label="The beginning of the sheet"
          aria-multiselectable
          className="select-none tabular-nums"
          onKeyDown={onKeyDown}
          onPointerUp={take}
          onPointerLeave={() => dragging && take()}
        >
          <thead>
            <tr>
              <th className="sticky top-0 left-0 z-10 bg-base-200" />
              {Array.from({ length: width }, (_, column) => (
                <th
                  // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                  key={column}
                  scope="col"
                  className="sticky top-0 bg-base-200 px-2 font-normal text-[0.9rem] text-muted"
                >
                  {letters(column)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {top.map((cells, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
              <tr key={row}>
                <th
                  scope="row"
                  className="sticky left-0 bg-base-200 px-2 text-right font-normal text-[0.9rem] text-muted"
                >
                  {row + 1}
                </th>
                {Array.from({ length: width }, (_, column) => {
                  const inside =
                    row >= chosen.top && row <= chosen.bottom && column >= chosen.left && column <= chosen.right;
                  return (
                    <td
                      // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                      key={column}
                      // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: as above
                      role="gridcell"
                      aria-selected={inside}
                      tabIndex={row === head.row && column === head.column ? 0 : -1}
                      className={`h-6 min-w-14 max-w-44 cursor-cell truncate border border-base-300 px-2 ${
                        inside ? "bg-primary/15" : "text-muted"
                      }`}
                      onPointerDown={() => {
                        focusWanted.current = false;
                        setAnchor({ row, column });
                        move({ row, column });
                        setDragging(true);
                      }}
                      onPointerEnter={() => dragging && move({ row, column })}
                    >
                      {cells[column] ?? ""}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="text-[0.9rem] text-muted">
        Drag from one corner of the part to the other, or hold Shift with the arrows and press Enter. A part that
        reaches the last row here goes on to the end of the sheet.
      </p>
    </div>
  );
}
