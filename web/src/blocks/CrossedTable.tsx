import { useState } from "react";
import type { Crossed, Table } from "../api/types";
import { CopyMenu } from "../app/CopyMenu";
import { KeepButton } from "../kept/KeepButton";
import { copyText } from "../lib/copy";
import { type CopiedTable, copiedOf, copyTable, tableMarkdown } from "../lib/copyTable";
import { leanFill, leanMark } from "../lib/lean";
import { scrollable } from "../lib/scrollable";
import { NoteHere } from "../notes/NoteHere";
import { useActions } from "../solution/actions";
import { useCurrent } from "../solution/current";
import { findTable, useSolution } from "../solution/solution";
import { canMove, movedBy, placesOf, together, totalsOf, viewsOf } from "./cells";
import { NumberButton } from "./Number";
import { Switch } from "./Switch";

/**
 * CrossedTable is a two-way table as a picture: in each cell what was observed, large, and
 * what is expected, outlined; its lean by fill and mark. One switch at a time shows
 * another measure in its place. Levels are joined and left out by their headers.
 */
export function CrossedTable({ table, crossed }: { table: Table; crossed: Crossed }) {
  const { solution } = useSolution();
  const current = useCurrent();
  const [view, setView] = useState("counts");
  const [turned, setTurned] = useState(false);
  const [picked, setPicked] = useState<{ side: Side; names: string[] }>({ side: "rows", names: [] });
  const views = viewsOf(table);
  const shownView = views.includes(view) ? view : "counts";
  const sides: [Line, Line] = [
    {
      side: "rows",
      id: crossed.down,
      names: placesOf(table, crossed.down),
      totals: totalsOf(findTable(solution, crossed.totals.down)),
    },
    {
      side: "columns",
      id: crossed.across,
      names: placesOf(table, crossed.across),
      totals: totalsOf(findTable(solution, crossed.totals.across)),
    },
  ];
  const [down, across] = turned ? [sides[1], sides[0]] : sides;
  const at = (id: string) => table.columns.findIndex((column) => column.id === id);
  const label = (id: string) => table.columns[at(id)]?.label ?? "";
  const measure = table.columns.find((column) => column.view === shownView);
  const rowAt = (first: string, second: string) => {
    const [row, column] = turned ? [second, first] : [first, second];
    return table.shown.findIndex((cells) => cells[at(crossed.down)] === row && cells[at(crossed.across)] === column);
  };
  const total = solution.quantities.find((quantity) => quantity.id === "n")?.display;
  const crossedTable = (): CopiedTable => ({
    title: measure ? `${table.title}: ${measure.label}` : `${table.title}: observed (expected)`,
    head: [`${label(down.id)} ↓ ${label(across.id)} →`, ...across.names, "total"],
    numeric: [false, ...across.names.map(() => true), true],
    rows: [
      ...down.names.map((name) => [
        name,
        ...across.names.map((other) => {
          const cells = table.shown[rowAt(name, other)] ?? [];
          const expected = cells[at("expected")] ?? "";
          if (measure) return cells[at(measure.id)] ?? "";
          return `${cells[at("observed")] ?? ""}${expected === "" ? "" : ` (${expected})`}`;
        }),
        down.totals.get(name) ?? "",
      ]),
      ["total", ...across.names.map((name) => across.totals.get(name) ?? ""), total ?? ""],
    ],
  });
  const pick = (side: Side, name: string) =>
    setPicked((now) => {
      if (now.side !== side) return { side, names: [name] };
      return { side, names: now.names.includes(name) ? now.names.filter((n) => n !== name) : [...now.names, name] };
    });
  const heading = (line: Line, name: string) =>
    crossed.join ? (
      <button
        type="button"
        className={`cursor-pointer rounded-field px-1.5 py-0.5 text-left hover:bg-base-200 ${
          picked.side === line.side && picked.names.includes(name) ? "bg-base-300" : ""
        }`}
        aria-pressed={picked.side === line.side && picked.names.includes(name)}
        onClick={() => pick(line.side, name)}
      >
        {name}
      </button>
    ) : (
      name
    );
  return (
    <NoteHere at={`table/${table.id}`} about={`the table “${table.title}”`}>
      {(note, editor) => (
        <div className="min-w-0">
          <Switch label="What the cells show" choices={views} chosen={shownView} onChoose={setView}>
            <button type="button" className="act ml-2" onClick={() => setTurned(!turned)}>
              Turn
            </button>
            <CopyMenu
              label={`Copy the table “${table.title}”`}
              ways={[
                { words: "Table, as it is shown", copy: () => copyTable(crossedTable()) },
                { words: "Cell by cell, with all digits", copy: () => copyTable(copiedOf([table], "all")) },
                { words: "Markdown", copy: () => copyText(tableMarkdown(crossedTable())) },
              ]}
            />
            {note}
            <KeepButton at={`table/${table.id}`} what={`the table “${table.title}”`} />
          </Switch>
          {editor}
          <section ref={scrollable} aria-label={table.title} className="overflow-x-auto">
            <table
              className="border-separate border-spacing-1 tabular-nums"
              aria-label={table.title}
              data-testid="crossed"
            >
              <thead>
                <tr>
                  <th scope="col" className="whitespace-nowrap px-2 text-left font-normal text-muted leading-tight">
                    {label(down.id)} ↓<br />
                    {label(across.id)} →
                  </th>
                  {across.names.map((name) => (
                    <th key={name} scope="col" className="px-1 pb-0.5 text-center align-bottom font-semibold">
                      {heading(across, name)}
                    </th>
                  ))}
                  <th scope="col" className="px-2 text-right align-bottom font-normal text-muted">
                    total
                  </th>
                </tr>
              </thead>
              <tbody>
                {down.names.map((name) => (
                  <tr key={name}>
                    <th scope="row" className="sticky left-0 bg-base-100 pr-1 text-left font-semibold">
                      {heading(down, name)}
                    </th>
                    {across.names.map((other) => {
                      const i = rowAt(name, other);
                      const shown = (id: string) => table.shown[i]?.[at(id)] ?? "";
                      const lean = Number(table.rows[i]?.[crossed.leaning] ?? 0);
                      return (
                        <td
                          key={other}
                          className="rounded-field border border-base-300 px-2 py-1 text-right align-top"
                          style={{ background: fillOf(lean) }}
                        >
                          <span className="flex items-baseline justify-between gap-2">
                            <Lean lean={lean} />
                            <span className="font-semibold font-serif text-[1.2rem] leading-tight">
                              {measure ? <CellNumber table={table} row={i} column={measure.id} /> : shown("observed")}
                            </span>
                          </span>
                          {measure ? (
                            <span className="text-[0.86rem] leading-tight">{shown("observed")}</span>
                          ) : shown("expected") === "" ? null : (
                            <span className="mt-0.5 inline-block rounded-sm border border-expected bg-sheet px-1 text-(--expected-text) text-[0.86rem] leading-tight">
                              <CellNumber table={table} row={i} column="expected" />
                            </span>
                          )}
                          {shownView === together && (
                            <span className="mt-1.5 block text-[0.86rem] leading-6">
                              <CellNumber table={table} row={i} column="contribution" />
                            </span>
                          )}
                        </td>
                      );
                    })}
                    <td className="px-2 text-right text-muted">{down.totals.get(name)}</td>
                  </tr>
                ))}
                <tr>
                  <th scope="row" className="px-1.5 text-left font-normal text-muted">
                    total
                  </th>
                  {across.names.map((name) => (
                    <td key={name} className="px-2 text-right text-muted">
                      {across.totals.get(name)}
                    </td>
                  ))}
                  <td className="px-2 text-right font-semibold">{total}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <p className="mt-1 text-[0.9rem] text-muted">
            {measure ? `Large: ${measure.label}. Under it: observed.` : "Large: observed. In the outline: expected."}
            {shownView === together &&
              " Under both: what the cell contributes to χ², (observed − expected)² / expected."}{" "}
            {shownView.startsWith("%") && percentWords(shownView, label(crossed.down), label(crossed.across))}
          </p>
          {crossed.join && crossed.omit && crossed.order && (
            <Levels
              picked={picked}
              line={picked.side === down.side ? down : across}
              upright={picked.side === down.side}
              join={crossed.join}
              omit={crossed.omit}
              order={crossed.order}
              changed={[crossed.join, crossed.omit, crossed.order].some((pointer) => current(pointer) !== null)}
              onDone={() => setPicked({ ...picked, names: [] })}
            />
          )}
        </div>
      )}
    </NoteHere>
  );
}

type Side = "rows" | "columns";

interface Line {
  side: Side;
  id: string;
  names: string[];
  totals: Map<string, string>;
}

/** percentWords says of what the percentages are. */
function percentWords(view: string, rows: string, columns: string): string {
  if (view === "% of all") return "All cells add up to 100 %.";
  return view === `% of ${rows.toLowerCase()}` || view === `% of ${rows}`
    ? `Each ${rows.toLowerCase()} adds up to 100 %.`
    : `Each ${columns.toLowerCase()} adds up to 100 %.`;
}

/** fillOf tints a cell by how far it leans. */
function fillOf(lean: number): string {
  const fill = leanFill(lean);
  return fill ? `color-mix(in srgb, ${fill.ink} ${Math.round(fill.opacity * 100)}%, var(--sheet))` : "var(--sheet)";
}

function Lean({ lean }: { lean: number }) {
  const mark = leanMark(lean);
  if (mark === "") return <span />;
  const says = lean > 0 ? "more than expected" : "fewer than expected";
  return (
    <span className="text-[0.8rem]" title={says}>
      <span aria-hidden="true">{mark}</span>
      <span className="sr-only">{says}</span>
    </span>
  );
}

interface CellProps {
  table: Table;
  row: number;
  column: string;
}

/** CellNumber is a number of a cell, which opens where it was calculated. */
function CellNumber({ table, row, column }: CellProps) {
  const at = table.columns.findIndex((each) => each.id === column);
  const ref = table.refs?.[row]?.[at];
  const text = table.shown[row]?.[at] ?? "";
  return ref && text !== "" ? <NumberButton id={ref} words={text} /> : text;
}

interface LevelsProps {
  picked: { side: Side; names: string[] };
  /** The side that was picked from, and whether it goes down. */
  line: Line;
  upright: boolean;
  join: string;
  omit: string;
  order: string;
  changed: boolean;
  onDone: () => void;
}

/** Levels joins the levels that were picked, moves them or leaves them out; a click on a header picks. */
function Levels({ picked, line, upright, join, omit, order, changed, onDone }: LevelsProps) {
  const { change } = useActions();
  const current = useCurrent();
  const { side, names } = picked;
  const whole = (pointer: string) => (current(pointer) as Record<Side, unknown[]> | null) ?? { rows: [], columns: [] };
  const parts = names.flatMap((name) => name.split(" + "));
  const act = (says: string, pointer: string, added: unknown[], keep: (group: unknown) => boolean) => {
    const now = whole(pointer);
    change([{ pointer, value: { ...now, [side]: [...(now[side] ?? []).filter(keep), ...added] } }], says);
    onDone();
  };
  // A level that was joined before is taken apart and joined anew with the others.
  const apart = (group: unknown) => !(Array.isArray(group) && group.some((name) => parts.includes(String(name))));
  const move = (by: number) => {
    const moved = movedBy(line.names, names, by).map((name) => name.split(" + ")[0]);
    change([{ pointer: order, value: { ...whole(order), [side]: moved } }], "levels in another order");
  };
  const [back, forth] = upright ? ["up", "down"] : ["left", "right"];
  return (
    <p className="screen-only mt-1.5 flex flex-wrap items-baseline gap-x-4 gap-y-1">
      {names.length === 0 && (
        <span className="text-muted">Click on levels to join them, move them or leave them out.</span>
      )}
      {names.length >= 2 && (
        <button type="button" className="act" onClick={() => act("levels joined", join, [parts], apart)}>
          Join {names.join(" and ")}
        </button>
      )}
      {names.length >= 1 && parts.length === names.length && (
        <button type="button" className="act" onClick={() => act("levels left out", omit, parts, () => true)}>
          Leave {names.join(" and ")} out
        </button>
      )}
      {names.length >= 1 && (
        <>
          <button type="button" className="act" disabled={!canMove(line.names, names, -1)} onClick={() => move(-1)}>
            Move {back}
          </button>
          <button type="button" className="act" disabled={!canMove(line.names, names, 1)} onClick={() => move(1)}>
            Move {forth}
          </button>
          <button type="button" className="act" onClick={onDone}>
            Pick none
          </button>
        </>
      )}
      {changed && (
        <button
          type="button"
          className="act"
          onClick={() =>
            change(
              [join, omit, order].map((pointer) => ({ pointer, value: null })),
              "levels as they were",
            )
          }
        >
          All levels as they were
        </button>
      )}
    </p>
  );
}
