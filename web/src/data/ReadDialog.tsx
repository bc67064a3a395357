import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ChevronsUpDown } from "lucide-react";
import { useEffect, useId, useRef, useState } from "react";
import { request } from "../api/client";
import type { DataSet, Kind, Reading } from "../api/types";
import { Dialog } from "../app/Dialog";
import { counted, upperFirst, whole } from "../lib/words";
import { SheetPart } from "./SheetPart";
import { asNumber } from "./sheet";

interface Props {
  title: string;
  /** Text from the clipboard, or a file. */
  block: string | File;
  /** What the button says. */
  takes: string;
  /** Names go along only where they land in the first row. */
  onTake: (set: DataSet, names: boolean) => void;
  onClose: () => void;
}

const separators: { value: string; label: string }[] = [
  { value: "\t", label: "tabs" },
  { value: ";", label: "semicolons" },
  { value: ",", label: "commas" },
  { value: "|", label: "bars" },
];

const shownRows = 8;
const shownColumns = 12;

let count = 0;
const numbers = new WeakMap<File, number>();
/** keyOf names a block for the query cache. */
function keyOf(block: string | File): string {
  if (typeof block === "string") return block;
  const known = numbers.get(block) ?? ++count;
  numbers.set(block, known);
  return `file ${known}`;
}

/** ReadDialog shows how a block or a file will be read, before it lands. */
export function ReadDialog({ title, block, takes, onTake, onClose }: Props) {
  const [choices, setChoices] = useState<Record<string, string>>({});
  const [range, setRange] = useState("");
  // Kinds that were chosen in place of the guessed ones, for the block as it is read now.
  const [own, setOwn] = useState<{ of: string; kinds: ReadonlyMap<number, Kind> }>({ of: "", kinds: new Map() });
  const [looking, setLooking] = useState(false);
  const id = useId();
  const query = new URLSearchParams(Object.entries(choices).filter(([, value]) => value !== "")).toString();
  const [before, setBefore] = useState<Reading>();
  const {
    data: fresh,
    error,
    isFetching,
  } = useQuery({
    queryKey: ["read", keyOf(block), query],
    queryFn: () => request<Reading>("POST", `/api/read${query ? `?${query}` : ""}`, block),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  // What was read last stays, so that a choice that cannot be read can be mended.
  if (fresh && fresh !== before) setBefore(fresh);
  const data = fresh ?? before;
  const ownKinds = own.of === query ? own.kinds : new Map<number, Kind>();
  const kinds = data?.kinds.map((kind, i) => ownKinds.get(i) ?? kind);
  const choose = (name: string, value: string) => setChoices((all) => ({ ...all, [name]: value }));
  const submit = useRef<HTMLButtonElement>(null);
  const there = data !== undefined;
  useEffect(() => {
    if (there) submit.current?.focus(); // Enter takes what is shown
  }, [there]);
  const set = data?.set;
  const columns = set?.columns ?? [];
  const rows = Math.max(0, ...columns.map((column) => column.cells.length));
  const take = () => {
    if (!set || columns.length === 0 || error) return;
    const said = columns.map((column, i) => ({ ...column, kind: ownKinds.get(i) ?? column.kind }));
    onTake({ ...set, columns: said }, data.header);
  };
  return (
    <Dialog title={title} onClose={onClose} wide>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        {error ? (
          <p role="alert" className="border-region border-l-2 pl-3 text-(--region-text)">
            {upperFirst(error.message)}.
          </p>
        ) : !data ? (
          <p role="status" className="text-muted">
            Reading …
          </p>
        ) : columns.length === 0 ? (
          <p className="text-muted">There is nothing in it.</p>
        ) : (
          <>
            <p>
              {rows === 0
                ? `The names of ${counted(columns.length, "column")}, and no case below them.`
                : `${counted(rows, "row")} of ${counted(columns.length, "column")}${data.header ? ", named by the first row" : ", without names"}.`}
              {data.totals && " A row or column of totals was left away."}
            </p>
            <PreviewTable
              set={set as DataSet}
              kinds={kinds}
              onKind={
                set?.form === "cases"
                  ? (at, kind) => setOwn({ of: query, kinds: new Map(ownKinds).set(at, kind) })
                  : undefined
              }
              odd={data.odd?.map((rows, i) => (ownKinds.has(i) ? [] : rows))}
              show={looking ? 3 : shownRows}
            />
          </>
        )}
        {data && (
          <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
            {data.tables && data.tables.length > 1 && (
              <label className="grid gap-0.5" htmlFor={`${id}-table`}>
                <span className="text-[0.9rem] text-muted">Sheet</span>
                <select
                  id={`${id}-table`}
                  className="select select-sm bg-sheet"
                  value={data.table}
                  onChange={(event) => {
                    setRange(""); // a part of one sheet is none of another
                    setChoices((all) => ({ ...all, table: event.target.value, range: "" }));
                  }}
                >
                  {data.tables.map((table) => (
                    <option key={table}>{table}</option>
                  ))}
                </select>
              </label>
            )}
            {data.tables && data.tables.length > 0 && (
              <button type="button" className="act mb-1" aria-expanded={looking} onClick={() => setLooking(!looking)}>
                Choose a part by looking
              </button>
            )}
            {data.tables && data.tables.length > 0 && (
              <label className="grid gap-0.5" htmlFor={`${id}-range`}>
                <span className="text-[0.9rem] text-muted">Part of the sheet</span>
                <input
                  id={`${id}-range`}
                  className="input input-sm w-32 bg-sheet"
                  placeholder="all, or B3:F40"
                  value={range}
                  onChange={(event) => setRange(event.target.value)}
                  onBlur={() => choose("range", range.trim())}
                  onKeyDown={(event) => {
                    if (event.key !== "Enter") return;
                    event.preventDefault();
                    choose("range", range.trim());
                  }}
                />
              </label>
            )}
            {data.separator && (
              <label className="grid gap-0.5" htmlFor={`${id}-separator`}>
                <span className="text-[0.9rem] text-muted">Cells are parted by</span>
                <select
                  id={`${id}-separator`}
                  className="select select-sm bg-sheet"
                  value={data.separator}
                  onChange={(event) => choose("separator", event.target.value)}
                >
                  {separators.map((each) => (
                    <option key={each.value} value={each.value}>
                      {each.label}
                    </option>
                  ))}
                </select>
              </label>
            )}
            <Tick
              label="The first row holds names"
              checked={data.header}
              onChange={(yes) => choose("header", yes ? "yes" : "no")}
            />
            <Tick
              label="Turn rows into columns"
              checked={choices.turned === "yes"}
              onChange={(yes) => choose("turned", yes ? "yes" : "")}
            />
            {(data.counts || choices.counts === "no") && (
              <Tick
                label="Keep it as a table of counts"
                checked={choices.counts !== "no"}
                onChange={(yes) => choose("counts", yes ? "" : "no")}
              />
            )}
          </div>
        )}
        {looking && data?.top && (
          <SheetPart
            key={data.table}
            top={data.top}
            range={choices.range ?? ""}
            onRange={(part) => {
              setRange(part);
              choose("range", part);
            }}
          />
        )}
        {data?.turned && choices.turned !== "yes" && (
          <p>
            Each row seems to hold a group.{" "}
            <button
              type="button"
              className="act"
              onClick={() => setChoices((all) => ({ ...all, turned: "yes", header: "yes" }))}
            >
              Turn rows into columns
            </button>
          </p>
        )}
        <p className="flex gap-2">
          <button
            type="submit"
            ref={submit}
            className="btn btn-primary"
            disabled={columns.length === 0 || Boolean(error) || isFetching}
          >
            {takes}
          </button>
          <button type="button" className="btn btn-ghost" onClick={onClose}>
            Cancel
          </button>
        </p>
      </form>
    </Dialog>
  );
}

function Tick({ label, checked, onChange }: { label: string; checked: boolean; onChange: (yes: boolean) => void }) {
  return (
    <label className="flex h-8 cursor-pointer items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}

interface PreviewProps {
  set: DataSet;
  kinds?: Kind[];
  onKind?: (at: number, kind: Kind) => void;
  /** For each column, the cells that do not fit its kind. */
  odd?: number[][];
  show?: number;
}

/** PreviewTable shows the first rows of a data set. */
export function PreviewTable({ set, kinds, onKind, odd, show = shownRows }: PreviewProps) {
  const columns = set.columns.slice(0, shownColumns);
  const rows = Math.max(0, ...set.columns.map((column) => column.cells.length));
  const isNumber = (at: number) =>
    kinds
      ? kinds[at] === "number"
      : !columns[at]?.cells.slice(0, shownRows).some((cell) => cell.trim() && Number.isNaN(asNumber(cell)));
  return (
    <section
      className="overflow-x-auto rounded-field border border-base-300 bg-sheet"
      aria-label="The first rows"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: so that it can be scrolled by key
      tabIndex={0}
    >
      <table>
        <thead>
          <tr className="border-base-300 border-b bg-base-200">
            {columns.map((column, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
              <th key={i} scope="col" className="px-2.5 py-1 text-left font-semibold">
                {column.name || <span className="font-normal text-muted">column {i + 1}</span>}
                <KindOf
                  name={column.name || `column ${i + 1}`}
                  kind={kinds?.[i]}
                  onKind={onKind && ((kind) => onKind(i, kind))}
                />
              </th>
            ))}
            {set.columns.length > shownColumns && (
              <th className="px-2.5 font-normal text-muted">and {set.columns.length - shownColumns} more</th>
            )}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: Math.min(rows, show) }, (_, row) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
            <tr key={row} className="h-[1.75rem] border-base-300 border-b last:border-b-0">
              {columns.map((column, i) => (
                <td
                  // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                  key={i}
                  className={`max-w-56 truncate px-2.5 py-0.5 ${isNumber(i) ? "text-right" : ""} ${
                    odd?.[i]?.includes(row) ? "text-(--region-text) underline decoration-wavy" : ""
                  }`}
                >
                  {column.cells[row] ?? ""}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {rows > show && <p className="px-2.5 py-1 text-muted">and {whole(rows - show)} more rows</p>}
    </section>
  );
}

const kindsInTurn: Kind[] = ["number", "category", "identifier"];

/** KindOf shows the kind that a column is taken for; a click takes it for the next one. */
function KindOf({ name, kind, onKind }: { name: string; kind: Kind | undefined; onKind?: (kind: Kind) => void }) {
  if (!kind) return null;
  if (!onKind) return <span className="block font-normal text-[0.86rem] text-muted">{kind}</span>;
  const next = kindsInTurn[(kindsInTurn.indexOf(kind) + 1) % kindsInTurn.length] as Kind;
  return (
    <button
      type="button"
      className="-mx-1 flex min-h-[24px] cursor-pointer items-center gap-1 rounded px-1 font-normal text-[0.86rem] text-muted hover:bg-base-300 hover:text-ink"
      aria-label={`${name} is taken for ${kind === "identifier" ? "an" : "a"} ${kind}: take it for ${next === "identifier" ? "an" : "a"} ${next}`}
      title={`Take it for ${next === "identifier" ? "an" : "a"} ${next}`}
      onClick={() => onKind(next)}
    >
      {kind}
      <ChevronsUpDown size="1em" aria-hidden="true" />
    </button>
  );
}
