import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Column, Table } from "../api/types";
import { CopyMenu } from "../app/CopyMenu";
import { KeepButton } from "../kept/KeepButton";
import { copyText } from "../lib/copy";
import { copiedOf, copyTable, tableMarkdown } from "../lib/copyTable";
import { useRemembered } from "../lib/remembered";
import { scrollable } from "../lib/scrollable";
import { NoteHere } from "../notes/NoteHere";
import { useChosen } from "../solution/chosen";
import { findTable, type RowsAsked, useSolution, versionOf } from "../solution/solution";
import { CrossedTable } from "./CrossedTable";
import { lettersOf, visible } from "./cells";
import { NumberButton } from "./Number";
import { filterOf, RowFilter, type TypedFilter } from "./RowFilter";

/** Longer tables are folded, so that a step can be read past them. */
const folded = 12;

/** How many letters the column of the steps has, where a column's two paddings are about three. */
const step = 54;

/** TableView shows a table; a long one unfolds, and its further pages come on request. */
export function TableView({ id }: { id: string }) {
  const { solution } = useSolution();
  const table = findTable(solution, id);
  if (!table) return null;
  if (table.crossed) return <CrossedTable table={table} crossed={table.crossed} />;
  if (table.total <= folded) return <TableRows key={table.id} table={table} />;
  return (
    <details className="group">
      <summary className="act inline cursor-pointer">
        {table.title}: {table.total} rows
      </summary>
      <div className="mt-2">
        <TableRows table={table} />
      </div>
    </details>
  );
}

/** marking tints the row and the column that lead to what is looked up, and its cell most. */
function marking(table: Table, row: number, column: number): string {
  const [atRow, atColumn] = table.marked ?? [];
  if (row === atRow && column === atColumn) return "bg-ink font-semibold text-base-100";
  return row === atRow || column === atColumn ? "bg-base-300" : "";
}

interface RowsProps {
  table: Table;
  /** Whether a long table stands in full height. */
  whole?: boolean;
}

/** TableRows shows a table's rows; further pages come on request. */
export function TableRows({ table, whole = false }: RowsProps) {
  const { rows } = useSolution();
  const { chosen, choose } = useChosen();
  const [order, setOrder] = useState<RowOrder | undefined>();
  const [shade, setShade] = useRemembered("shade-residuals", false);
  const [typed, setTyped] = useState<TypedFilter>(() => firstFilter(table));
  const asked: RowsAsked = { ...order, where: filterOf(typed, table.columns) };
  const other = asked.sort !== undefined || asked.where !== undefined;
  const version = versionOf(table);
  const picked = useQuery({
    queryKey: ["rows", table.id, version, asked],
    queryFn: () => rows(table.id, 0, asked),
    enabled: other,
    placeholderData: (before) => before,
  });
  const start = other && picked.data ? picked.data : table;
  const [further, setFurther] = useState<{ first: Table; pages: Table[] }>({ first: table, pages: [] });
  const pages = further.first === start ? further.pages : []; // a changed solution starts anew
  const more = useMutation({
    mutationFn: (from: number) => rows(table.id, from, asked),
    onSuccess: (page) => setFurther({ first: start, pages: [...pages, page] }),
  });
  const columns = table.columns.filter(visible).length;
  const letters = table.columns.reduce((sum, column, j) => sum + (visible(column) ? lettersOf(table, j) : 0), 0);
  const many = columns > 6 || letters + 3 * columns > step; // which share the whole width
  const padding = many ? "px-0.75" : "px-3";
  const all = [start, ...pages];
  const mostOf = (column: Column) =>
    Math.max(1e-300, ...all.flatMap((page) => page.rows.map((row) => Math.abs(Number(row[column.id] ?? 0)))));
  const shown = all.reduce((sum, page) => sum + page.rows.length, 0);
  const cases = table.id === "cases";
  const filtered = cases && table.total > folded;
  const copy = (
    <CopyMenu
      label={`Copy the table “${table.title}”`}
      ways={[
        { words: "Table, as it is shown", copy: () => copyTable(copiedOf(all, "shown")) },
        { words: "Table, with all digits", copy: () => copyTable(copiedOf(all, "all")) },
        { words: "Markdown", copy: () => copyText(tableMarkdown(copiedOf(all, "shown"))) },
      ]}
    />
  );
  const keep = <KeepButton at={`table/${table.id}`} what={`the table “${table.title}”`} />;
  return (
    <NoteHere at={`table/${table.id}`} about={`the table “${table.title}”`}>
      {(note, editor) => (
        <>
          <div className={filtered ? "" : "flex items-start gap-2"}>
            {filtered && (
              <div className="mb-2 flex items-start justify-between gap-2">
                <RowFilter table={table} kept={start} asked={asked} typed={typed} onType={setTyped} />
                <span className="flex shrink-0 items-center gap-2">
                  {table.columns.some((column) => column.bar) && (
                    <label className="flex cursor-pointer items-center gap-1.5 text-muted">
                      <input
                        type="checkbox"
                        className="checkbox checkbox-xs"
                        checked={shade}
                        onChange={(event) => setShade(event.target.checked)}
                      />
                      shade by size
                    </label>
                  )}
                  {copy}
                  {note}
                  {keep}
                </span>
              </div>
            )}
            <section
              ref={scrollable}
              aria-label={table.title}
              className={`min-w-0 overflow-x-auto ${many ? "grow" : ""} ${table.total > folded && !whole ? "max-h-80 overflow-y-auto" : ""}`}
            >
              <table
                className={`tabular-nums ${many ? "w-full text-[0.88rem]" : ""} ${table.dimmed ? "text-muted" : ""}`}
                aria-label={table.title}
              >
                <thead>
                  <tr className="border-base-300 border-b">
                    {table.columns.filter(visible).map((column) => (
                      <th
                        key={column.id}
                        scope="col"
                        aria-sort={
                          order?.sort === column.id ? (order.descending ? "descending" : "ascending") : undefined
                        }
                        className={`sticky top-0 bg-base-100 ${padding} py-1 font-normal text-muted ${table.marked ? "" : "first:pl-0"} ${column.numeric ? "text-right" : "text-left"}`}
                      >
                        <Heading column={column} sortable={cases} order={order} onOrder={setOrder} />
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {all.map((page) =>
                    page.rows.map((row, i) => {
                      const number = typeof row.case === "number" ? row.case : undefined;
                      return (
                        <tr
                          // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place in the table
                          key={page.from + i}
                          className={`border-base-300 border-b ${number !== undefined && chosen.has(number) ? "bg-base-300" : ""}`}
                          onClick={(event) => {
                            // A number opens, and chooses nothing.
                            if (number !== undefined && !(event.target as Element).closest(".number")) choose([number]);
                          }}
                        >
                          {table.columns.map((column, j) => {
                            if (!visible(column)) return null;
                            const ref = page.refs?.[i]?.[j];
                            const text = page.shown[i]?.[j] ?? "";
                            return (
                              <td
                                key={column.id}
                                className={`${padding} py-1 ${table.marked ? "" : "first:pl-0"} ${column.numeric ? "whitespace-nowrap text-right" : "text-left"} ${marking(table, i, j)}`}
                                style={
                                  shade && column.bar ? shaded(Number(row[column.id] ?? 0) / mostOf(column)) : undefined
                                }
                              >
                                {column.bar && <SignedBar value={Number(row[column.id] ?? 0)} most={mostOf(column)} />}
                                {ref && text !== "" ? (
                                  <NumberButton id={ref} words={text} />
                                ) : column.id === "case" && number !== undefined ? (
                                  <CaseButton text={text} chosen={chosen.has(number)} />
                                ) : (
                                  text
                                )}
                              </td>
                            );
                          })}
                        </tr>
                      );
                    }),
                  )}
                </tbody>
              </table>
              {shown < start.total && (
                <button type="button" className="act mt-2" disabled={more.isPending} onClick={() => more.mutate(shown)}>
                  {more.isPending ? "Fetching …" : `Show more of the ${start.total} rows`}
                </button>
              )}
              {(more.error ?? picked.error) && (
                <p role="alert" className="text-(--region-text)">
                  {(more.error ?? picked.error)?.message}
                </p>
              )}
            </section>
            {!filtered && (
              <span className="flex shrink-0 flex-col">
                {copy}
                {note}
                {keep}
              </span>
            )}
          </div>
          {editor}
        </>
      )}
    </NoteHere>
  );
}

/** The order of rows by a column. */
type RowOrder = Required<Pick<RowsAsked, "sort" | "descending">> & Pick<RowsAsked, "signed">;

/**
 * nextOrder is what a click on a heading brings: the largest first, then the smallest, then the order as it was. What is
 * drawn as a bar goes by its size, and before the order as it was by its sign, from either end.
 */
export function nextOrder(column: Column, order: RowOrder | undefined): RowOrder | undefined {
  const first = { sort: column.id, descending: column.numeric };
  if (order?.sort !== column.id) return first;
  if (order.descending === column.numeric) return { ...order, descending: !order.descending };
  return column.bar && !order.signed ? { ...first, signed: true } : undefined;
}

/** firstFilter begins with what is drawn as a bar, or else with the last column. */
function firstFilter(table: Table): TypedFilter {
  const columns = table.columns.filter(visible);
  const column = columns.find((each) => each.bar) ?? columns.at(-1);
  return { column: column?.id ?? "", is: column?.bar ? "beyond" : "at-least", value: "" };
}

/** shaded is the ground of a number of a size from 0 to 1, in one ink and light enough to read on. */
const shaded = (size: number) => ({
  backgroundColor: `color-mix(in oklab, var(--ink) ${Math.round(34 * Math.min(1, Math.abs(size)))}%, transparent)`,
});

/** CaseButton lets the case of a row be chosen by key; the click reaches the row, which chooses it. */
function CaseButton({ text, chosen }: { text: string; chosen: boolean }) {
  return (
    <button
      type="button"
      className="cursor-pointer rounded-field px-1 hover:bg-base-200"
      aria-label={`Case ${text}`}
      aria-pressed={chosen}
    >
      {text}
    </button>
  );
}

/** SignedBar is a bar from the middle to the side of a number's sign, solid as what was observed. */
function SignedBar({ value, most }: { value: number; most: number }) {
  const length = (Math.abs(value) / most) * 11;
  return (
    <svg width="26" height="12" className="mr-1 inline-block align-[-1px]" aria-hidden="true">
      <line x1="13" x2="13" y1="0" y2="12" stroke="var(--expected)" strokeWidth="1.4" />
      <rect x={value < 0 ? 13 - length : 13} y="2.5" width={length} height="7" fill="var(--ink)" fillOpacity="0.75" />
    </svg>
  );
}

interface HeadingProps {
  column: Column;
  sortable: boolean;
  order?: RowOrder;
  onOrder: (order: RowOrder | undefined) => void;
}

/** Heading names a column; a click puts the rows in its order. */
function Heading({ column, sortable, order, onOrder }: HeadingProps) {
  const words = (
    <>
      {column.label}
      {column.unit && <span> ({column.unit})</span>}
    </>
  );
  if (!sortable) return words;
  const mine = order?.sort === column.id ? order : undefined;
  return (
    <button
      type="button"
      className="cursor-pointer rounded-field hover:bg-base-200"
      title="Sort"
      onClick={() => onOrder(nextOrder(column, mine))}
    >
      {words}
      {mine && <span aria-hidden="true">{`${mine.signed ? " ±" : " "}${mine.descending ? "↓" : "↑"}`}</span>}
    </button>
  );
}
