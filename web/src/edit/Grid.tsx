import { useMutation } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { FolderOpen, Plus, X } from "lucide-react";
import { useRef } from "react";
import { request } from "../api/client";
import type { Draft, DraftColumn, Sheet } from "../api/types";
import { useToast } from "../app/toasts";
import { useDraft } from "./draft";
import { Mistake } from "./Field";

const rowHeight = 30;
/** Blank rows that always stand below the last one filled. */
const spare = 6;

const filled = (columns: DraftColumn[]): number =>
  Math.max(0, ...columns.map((column) => lastFilled(column.cells) + 1));

function lastFilled(cells: string[]): number {
  for (let i = cells.length - 1; i >= 0; i--) if (cells[i]?.trim()) return i;
  return -1;
}

/** withCell returns the columns with one cell changed. */
function withCells(draft: Draft, column: number, from: number, values: string[]): DraftColumn[] {
  return draft.columns.map((each, i) => {
    if (i !== column) return each;
    const cells = [...each.cells];
    while (cells.length < from + values.length) cells.push("");
    cells.splice(from, values.length, ...values);
    while (cells.length > 0 && cells.at(-1) === "") cells.pop();
    return { ...each, cells };
  });
}

/** withSheet lays a block of cells over the columns, its corner at the given cell. */
function withSheet(draft: Draft, sheet: Sheet, row: number, column: number): Draft {
  let columns = draft.columns;
  while (columns.length < column + sheet.columns.length && draft.entry !== "summary") {
    columns = [...columns, { name: "", label: "", unit: "", kind: "", cells: [] }];
  }
  sheet.columns.forEach((cells, i) => {
    const at = column + i;
    if (at >= columns.length) return;
    columns = withCells({ ...draft, columns }, at, row, cells);
    const name = sheet.header ? sheet.names[i] : undefined;
    if (name && row === 0 && draft.entry !== "summary") {
      columns = columns.map((each, j) => (j === at ? { ...each, name } : each));
    }
  });
  return { ...draft, columns };
}

/** emptied returns the draft without its cells, for a file to take their place. */
function emptied(draft: Draft): Draft {
  if (draft.entry === "summary")
    return { ...draft, columns: draft.columns.map((column) => ({ ...column, cells: [] })) };
  return { ...draft, columns: [], roles: {} };
}

/** Grid is the table in which the data are typed and pasted. */
export function Grid() {
  const { draft, change, mistakes, kinds } = useDraft();
  const toast = useToast();
  const box = useRef<HTMLDivElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const rows = Math.max(filled(draft.columns) + spare, 12);
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const read = useMutation({
    mutationFn: ({ block }: { block: string | File; row: number; column: number }) =>
      request<Sheet>("POST", "/api/read", block),
    onSuccess: (sheet, { block, row, column }) =>
      typeof block === "string"
        ? change("paste", (d) => withSheet(d, sheet, row, column))
        : change(`open ${block.name}`, (d) => withSheet(emptied(d), sheet, 0, 0)),
    onError: (error, { block }) =>
      toast({
        says:
          typeof block === "string"
            ? `Nothing was pasted. ${error.message}`
            : `${block.name} was not opened. ${error.message}`,
        bad: true,
      }),
  });
  const summary = draft.entry === "summary";
  const wrong = new Map(mistakes.map((mistake) => [mistake.pointer, mistake]));
  const inGrid = mistakes.filter((mistake) => mistake.pointer.startsWith("/columns"));

  const focus = (row: number, column: number) => {
    if (row < 0 || row >= rows || column < 0 || column >= draft.columns.length) return;
    const cell = () => box.current?.querySelector<HTMLInputElement>(`[data-cell="${row}/${column}"]`);
    const go = (input: HTMLInputElement) => {
      input.focus();
      input.select();
    };
    // At once where the cell is there, so that fast typing lands in it.
    const near = cell();
    if (near) go(near);
    virtual.scrollToIndex(row);
    if (!near) {
      requestAnimationFrame(() => {
        const far = cell();
        if (far) go(far);
      });
    }
  };
  const onKeyDown = (event: React.KeyboardEvent<HTMLInputElement>, row: number, column: number) => {
    const input = event.currentTarget;
    const whole = input.selectionStart === 0 && input.selectionEnd === input.value.length;
    const moves: Record<string, [number, number] | undefined> = {
      Enter: [event.shiftKey ? -1 : 1, 0],
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowLeft: input.selectionStart === 0 && (whole || input.selectionEnd === 0) ? [0, -1] : undefined,
      ArrowRight: whole || input.selectionStart === input.value.length ? [0, 1] : undefined,
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    focus(row + move[0], column + move[1]);
  };
  const setColumn = (at: number, says: string, next: Partial<DraftColumn>) =>
    change(says, (d) => ({
      ...d,
      columns: d.columns.map((column, i) => (i === at ? { ...column, ...next } : column)),
    }));
  const addColumn = () =>
    change("add a column", (d) => ({
      ...d,
      columns: [...d.columns, { name: "", label: "", unit: "", kind: "", cells: [] }],
    }));
  const removeColumn = (at: number) =>
    change("remove a column", (d) => ({ ...d, columns: d.columns.filter((_, i) => i !== at) }));

  const template = `3rem repeat(${draft.columns.length}, minmax(7.5rem, 1fr))`;
  return (
    <div>
      <div className="flex items-start gap-2">
        {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a shortcut for the button */}
        <div
          ref={box}
          className="max-h-96 min-w-0 flex-1 overflow-auto rounded-field border border-base-300 bg-sheet"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            const file = event.dataTransfer.files[0];
            if (file) read.mutate({ block: file, row: 0, column: 0 });
          }}
        >
          <div
            className="sticky top-0 z-10 grid border-base-300 border-b bg-base-200"
            style={{ gridTemplateColumns: template }}
          >
            <span />
            {draft.columns.map((column, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
              <div key={i} className="border-base-300 border-l px-1.5 py-1">
                {summary ? (
                  <span className="font-semibold">{["group", "n", "mean", "sd"][i]}</span>
                ) : (
                  <>
                    <span className="flex items-center">
                      <input
                        aria-label={`Name of column ${i + 1}`}
                        aria-invalid={wrong.has(`/columns/${i}/name`)}
                        className="min-h-[24px] w-full min-w-0 bg-transparent font-semibold outline-none placeholder:font-normal placeholder:text-muted aria-invalid:text-(--region-text)"
                        placeholder={draft.entry === "columns" ? `group ${i + 1}` : `column ${i + 1}`}
                        value={column.name}
                        onChange={(event) => setColumn(i, "name of a column", { name: event.target.value })}
                      />
                      {draft.columns.length > 2 && (
                        <button
                          type="button"
                          className="cursor-pointer text-muted hover:text-ink"
                          aria-label={`Remove column ${i + 1}`}
                          onClick={() => removeColumn(i)}
                        >
                          <X size="1em" aria-hidden="true" />
                        </button>
                      )}
                    </span>
                    {draft.entry === "cases" && (
                      <span className="flex items-center gap-1.5 text-[0.86rem] text-muted">
                        <span>{lastFilled(column.cells) < 0 ? "\u00a0" : kinds[i]}</span>
                        {kinds[i] === "number" && (
                          <input
                            aria-label={`Unit of column ${i + 1}`}
                            className="min-h-[24px] w-full min-w-0 bg-transparent text-[0.86rem] outline-none placeholder:text-muted"
                            placeholder="unit"
                            value={column.unit}
                            onChange={(event) => setColumn(i, "unit of a column", { unit: event.target.value })}
                          />
                        )}
                      </span>
                    )}
                  </>
                )}
              </div>
            ))}
          </div>
          <div className="relative" style={{ height: virtual.getTotalSize() }}>
            {virtual.getVirtualItems().map((item) => (
              <div
                key={item.key}
                className="absolute inset-x-0 grid"
                style={{ gridTemplateColumns: template, height: rowHeight, transform: `translateY(${item.start}px)` }}
              >
                <span className="self-center pr-2 text-right text-[0.86rem] text-muted">{item.index + 1}</span>
                {draft.columns.map((column, i) => {
                  const mistake = wrong.get(`/columns/${i}/cells/${item.index}`);
                  return (
                    <input
                      // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                      key={i}
                      data-cell={`${item.index}/${i}`}
                      aria-label={`${column.name || `column ${i + 1}`}, row ${item.index + 1}`}
                      aria-invalid={mistake !== undefined}
                      title={mistake?.says}
                      className={`min-w-0 border-base-300 border-b border-l bg-transparent px-2 outline-none focus:bg-base-200 focus:ring-2 focus:ring-primary focus:ring-inset aria-invalid:bg-region/15 aria-invalid:text-(--region-text) aria-invalid:underline aria-invalid:decoration-wavy ${
                        kinds[i] === "number" || (summary && i > 0) || draft.entry === "columns" ? "text-right" : ""
                      }`}
                      value={column.cells[item.index] ?? ""}
                      onChange={(event) =>
                        change(`cell ${i}/${item.index}`, (d) => ({
                          ...d,
                          columns: withCells(d, i, item.index, [event.target.value]),
                        }))
                      }
                      onKeyDown={(event) => onKeyDown(event, item.index, i)}
                      onPaste={(event) => {
                        const text = event.clipboardData.getData("text/plain");
                        if (!/[\t\n]/.test(text.trimEnd())) return; // a single cell pastes as usual
                        event.preventDefault();
                        read.mutate({ block: text, row: item.index, column: i });
                      }}
                    />
                  );
                })}
              </div>
            ))}
          </div>
        </div>
        {!summary && (
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            aria-label="Add a column"
            title="Add a column"
            onClick={addColumn}
          >
            <Plus size="1.2em" aria-hidden="true" />
          </button>
        )}
      </div>
      <p className="mt-2 flex items-center gap-3 text-muted">
        <button
          type="button"
          className="btn btn-sm btn-outline border-base-300"
          onClick={() => picker.current?.click()}
        >
          <FolderOpen size="1.1em" aria-hidden="true" />
          Open a data file
        </button>
        CSV, XLSX, ODS or JSON; it takes the place of the table, and Undo brings that back
        <input
          ref={picker}
          type="file"
          accept=".csv,.tsv,.txt,.xlsx,.ods,.json"
          className="hidden"
          aria-label="Data file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) read.mutate({ block: file, row: 0, column: 0 });
            event.target.value = "";
          }}
        />
      </p>
      {read.isPending && (
        <p role="status" className="mt-1 text-muted">
          Reading …
        </p>
      )}
      <div role="alert" className="mt-1">
        {inGrid.slice(0, 4).map((mistake) => (
          <Mistake key={mistake.pointer + mistake.says} says={mistake.says} instead={mistake.instead} />
        ))}
        {inGrid.length > 4 && (
          <p className="text-(--region-text)">And {inGrid.length - 4} more, marked in the table.</p>
        )}
      </div>
    </div>
  );
}
