import { useState } from "react";
import type { Item, Table } from "../api/types";
import { placesOf, totalsOf, visible } from "../blocks/cells";
import { findTable, useSolution } from "../solution/solution";
import { useDoing } from "./context";
import { credited, Mark, markingOf } from "./marks";
import { AnswerField } from "./NumberAsk";
import { Row } from "./Row";
import { Said } from "./Said";

/** tableOf returns the table and the column whose cells an ask is one of. */
export const tableOf = (ask: string): string => ask.split("/")[0] ?? "";

/**
 * CellsAsk are the cells of a table that are filled in one by one, each with its verdict. What is said of the cell in hand
 * stands below. Tab and the arrow keys move from cell to cell.
 */
export function CellsAsk({ items }: { items: Item[] }) {
  const { solution } = useSolution();
  const { waits } = useDoing();
  const [inHand, setInHand] = useState(items[0]?.id);
  const table = findTable(solution, tableOf(items[0]?.id ?? ""));
  if (!table) return null;
  const item = items.find((each) => each.id === inHand) ?? items.find((each) => !credited(each)) ?? items[0];
  const right = items.filter((each) => credited(each) || each.shown).length;
  return (
    <Row
      margin={
        <span className="block pt-1 font-semibold font-serif text-[1.05rem] max-sm:hidden">
          {right} of {items.length} cells
        </span>
      }
      mark={<CellsMark done={right === items.length} items={items} />}
    >
      <p className="text-muted">Expected counts, if H₀ were true</p>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the fields in it have the focus */}
      <div
        className="my-1.5 overflow-x-auto"
        onFocus={(event) => {
          const ask = (event.target as HTMLElement).dataset.ask;
          if (ask) setInHand(ask);
        }}
        onKeyDown={moveByArrows}
      >
        {table.crossed ? (
          <CrossedCells table={table} down={table.crossed.down} across={table.crossed.across} items={items} />
        ) : (
          <ListedCells table={table} items={items} />
        )}
      </div>
      {item && (
        <div className="min-h-[3.2rem]">
          {(item.verdict || item.help.length > 0) && (
            <p className="font-semibold">{item.label.replace(/^[^,]*, /, "")}</p>
          )}
          <Said item={item} waiting={waits(item.id)} />
        </div>
      )}
    </Row>
  );
}

/** CellsMark is the mark of all cells together: done, or still open. */
function CellsMark({ done, items }: { done: boolean; items: Item[] }) {
  const first = items[0] as Item;
  const open: Item = { ...first, verdict: undefined, shown: false };
  return <Mark item={done ? first : open} waiting={false} />;
}

interface CellProps {
  item: Item | undefined;
  row: number;
  column: number;
}

/** Cell is the field of an expected count, outlined as what H₀ expects is everywhere, with the mark of its verdict. */
function Cell({ item, row, column }: CellProps) {
  const { waits } = useDoing();
  if (!item) return null;
  const marking = waits(item.id) ? undefined : markingOf(item);
  return (
    <span
      className={`mt-1 flex items-center gap-1 rounded-sm border px-0.5 py-0.5 ${marking ? "border-expected" : "border-expected border-dashed"}`}
      data-row={row}
      data-column={column}
    >
      <span className={`inline-flex w-4 justify-center ${marking?.tone ?? ""}`}>
        {marking && <marking.icon size="0.9rem" strokeWidth={2.4} role="img" aria-label={marking.label} />}
      </span>
      <AnswerField item={item} id={`ask-${item.id}`} label={item.label} small />
    </span>
  );
}

function CrossedCells({ table, down, across, items }: { table: Table; down: string; across: string; items: Item[] }) {
  const { solution } = useSolution();
  const at = (id: string) => table.columns.findIndex((column) => column.id === id);
  const rows = placesOf(table, down);
  const columns = placesOf(table, across);
  const downTotals = totalsOf(findTable(solution, table.crossed?.totals.down ?? ""));
  const acrossTotals = totalsOf(findTable(solution, table.crossed?.totals.across ?? ""));
  const total = solution.quantities.find((quantity) => quantity.id === "n")?.display;
  return (
    <table className="border-separate border-spacing-1 tabular-nums" aria-label={table.title}>
      <thead>
        <tr>
          <td />
          {columns.map((name) => (
            <th key={name} scope="col" className="px-1 text-center font-semibold">
              {name}
            </th>
          ))}
          <th scope="col" className="px-2 text-right font-normal text-muted">
            total
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((name, i) => (
          <tr key={name}>
            <th scope="row" className="pr-1 text-left font-semibold">
              {name}
            </th>
            {columns.map((other, j) => {
              const row = table.shown.findIndex((cells) => cells[at(down)] === name && cells[at(across)] === other);
              const ref = table.refs?.[row]?.[at("expected")];
              return (
                <td key={other} className="rounded-field border border-base-300 px-1.5 py-1 text-right">
                  <span className="font-semibold font-serif text-[1.1rem] leading-tight">
                    {table.shown[row]?.[at("observed")]}
                  </span>
                  <Cell item={items.find((item) => item.id === ref)} row={i} column={j} />
                </td>
              );
            })}
            <td className="px-2 text-right">{downTotals.get(name)}</td>
          </tr>
        ))}
        <tr>
          <th scope="row" className="text-left font-normal text-muted">
            total
          </th>
          {columns.map((name) => (
            <td key={name} className="px-2 text-right">
              {acrossTotals.get(name)}
            </td>
          ))}
          <td className="px-2 text-right font-semibold">{total}</td>
        </tr>
      </tbody>
    </table>
  );
}

function ListedCells({ table, items }: { table: Table; items: Item[] }) {
  const at = table.columns.findIndex((column) => column.id === "expected");
  const columns = table.columns.map((column, j) => ({ column, j })).filter(({ column }) => visible(column));
  return (
    <table className="tabular-nums" aria-label={table.title}>
      <thead>
        <tr className="border-base-300 border-b">
          {columns.map(({ column }) => (
            <th
              key={column.id}
              scope="col"
              className={`px-2.5 py-1 font-normal text-muted first:pl-0 ${column.numeric ? "text-right" : "text-left"}`}
            >
              {column.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {table.shown.map((shown, i) => (
          <tr key={shown[0]} className="border-base-300 border-b">
            {columns.map(({ column, j }) => (
              <td
                key={column.id}
                className={`px-2.5 py-0.5 first:pl-0 ${column.numeric ? "text-right" : "text-left"} ${column.id === "observed" ? "font-semibold" : ""}`}
              >
                {j === at ? (
                  <span className="inline-block">
                    <Cell item={items.find((item) => item.id === table.refs?.[i]?.[j])} row={i} column={0} />
                  </span>
                ) : (
                  shown[j]
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const steps: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** moveByArrows goes to the neighbouring cell; sideways only from the end of what is typed. */
function moveByArrows(event: React.KeyboardEvent) {
  const step = steps[event.key];
  const field = event.target;
  if (!step || !(field instanceof HTMLInputElement)) return;
  const { selectionStart, selectionEnd, value } = field;
  if (step[1] < 0 && (selectionStart ?? 0) > 0) return;
  if (step[1] > 0 && (selectionEnd ?? 0) < value.length) return;
  const cell = field.closest<HTMLElement>("[data-row]");
  const row = Number(cell?.dataset.row) + step[0];
  const column = Number(cell?.dataset.column) + step[1];
  const next = event.currentTarget.querySelector<HTMLInputElement>(
    `[data-row="${row}"][data-column="${column}"] input`,
  );
  if (!next) return;
  event.preventDefault();
  next.focus();
  next.select();
}
