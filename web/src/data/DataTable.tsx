import { ArrowDownToLine, Columns3, FolderOpen, ListX, Plus, Rows3, Search, Shapes, Sigma } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { DataSet } from "../api/types";
import { useSheet } from "./context";
import { DeriveDialog } from "./DeriveDialog";
import { FindBar } from "./FindBar";
import { Grid, type GridHandle } from "./Grid";
import { cellText } from "./gridText";
import { ReadDialog } from "./ReadDialog";
import { ReshapeDialog } from "./ReshapeDialog";
import { type Place, rangeOf, type Selection } from "./selection";
import { rowsOf, sheetOf, withBlock, withColumn } from "./sheet";
import type { Sort } from "./sort";

interface Props {
  ref?: React.RefObject<GridHandle | null>;
  height: string;
  looked?: readonly number[];
  onLook?: (column: number, add: boolean) => void;
  leftOut?: ReadonlyMap<number, string>;
  /** Further tools, for the rows that are selected. */
  tools?: (rows: number[]) => React.ReactNode;
}

/** The most cells in which a text is sought and marked. */
const mostFound = 5000;

interface Waiting {
  block: string | File;
  at: Place;
}

/** DataTable is the grid with its tools: the one place where data are typed, pasted, opened and put right. */
export function DataTable({ ref, height, looked, onLook, leftOut, tools }: Props) {
  const { sheet, change, derived, shared } = useSheet();
  const own = useRef<GridHandle>(null);
  const grid = ref ?? own;
  const picker = useRef<HTMLInputElement>(null);
  const [waiting, setWaiting] = useState<Waiting>();
  const [deriving, setDeriving] = useState(false);
  const [reshaping, setReshaping] = useState(false);
  const [sort, setSort] = useState<Sort>();
  const [find, setFind] = useState<{ text: string; at: number }>();
  const [selection, setSelection] = useState<Selection>();
  const places = useMemo(() => {
    const text = find?.text.trim().toLowerCase() ?? "";
    if (text === "") return [];
    const found: [number, number][] = [];
    const rows = rowsOf(sheet);
    for (let row = 0; row < rows && found.length < mostFound; row++)
      for (let column = 0; column < sheet.columns.length; column++)
        if (cellText(sheet, derived, row, column).toLowerCase().includes(text)) found.push([row, column]);
    return found;
  }, [find?.text, sheet, derived]);
  const found = useMemo(() => new Set(places.map(([row, column]) => `${row}/${column}`)), [places]);
  const step = (by: number) => {
    if (find && places.length > 0) setFind({ ...find, at: (find.at + by + places.length) % places.length });
  };
  // The cell that is found is shown, and the field keeps the focus for the next step.
  const here = find && places[find.at]?.join("/");
  useEffect(() => {
    const [row, column] = here?.split("/").map(Number) ?? [];
    if (row !== undefined && column !== undefined) grid.current?.show(row, column);
  }, [here, grid]);
  const range = selection ? rangeOf(selection) : undefined;
  const selectedRows =
    range && selection?.whole !== "columns"
      ? Array.from(
          { length: Math.max(0, Math.min(range.bottom, rowsOf(sheet) - 1) - range.top + 1) },
          (_, i) => range.top + i,
        )
      : [];
  const put = (set: DataSet, names: boolean) => {
    if (!waiting) return;
    const { block, at } = waiting;
    if (typeof block === "string") {
      const whole = set.form === "counts" && rowsOf(sheet) === 0;
      change("paste", (s) => withBlock(whole ? { ...s, form: "counts" } : s, at.row, at.column, set.columns, names));
    } else {
      // The keys go on from the old ones, so that no column is taken for another.
      change(`open ${block.name}`, (s) => {
        const first = 1 + Math.max(0, ...s.columns.map((column) => column.key));
        const columns = sheetOf(set).columns.map((column, i) => ({ ...column, key: first + i }));
        return { ...s, form: set.form, columns };
      });
    }
    setWaiting(undefined);
  };
  return (
    <div className="grid min-w-0 grid-cols-1 gap-1.5">
      <div role="toolbar" aria-label="Tools of the table" className="flex flex-wrap items-center gap-x-0.5 gap-y-1">
        {!shared && (
          <>
            <Tool
              icon={FolderOpen}
              words="Open a file"
              title="CSV, TSV, XLSX, ODS or JSON, in place of this table"
              onClick={() => picker.current?.click()}
            />
            <Tool
              icon={Plus}
              words="Column"
              title="Add a column at the end"
              onClick={() => change("add a column", (s) => withColumn(s, s.columns.length))}
            />
            {sheet.form === "cases" && (
              <Tool icon={Sigma} words="Derive" title="A new variable by a formula" onClick={() => setDeriving(true)} />
            )}
            <Tool
              icon={Shapes}
              words="Reshape"
              title="Another data set of this one: stacked, parted, counted, some of the cases"
              onClick={() => setReshaping(true)}
            />
            <span className="mx-1 h-5 w-px bg-base-300" aria-hidden="true" />
            <Tool
              icon={ArrowDownToLine}
              label="Fill down"
              title="Fill the selection from its first row (Ctrl+D)"
              onClick={() => grid.current?.fillDown()}
            />
            <Tool
              icon={Rows3}
              label="Insert rows"
              title="Insert as many rows as are selected (Alt+Insert)"
              onClick={() => grid.current?.insertRows()}
            />
            <Tool
              icon={ListX}
              label="Delete rows"
              title="Delete the selected rows (Alt+Delete)"
              onClick={() => grid.current?.deleteRows()}
            />
          </>
        )}
        <Tool icon={Search} label="Find" title="Find (Ctrl+F)" onClick={() => setFind({ text: "", at: 0 })} />
        {find && (
          <FindBar
            text={find.text}
            count={places.length}
            at={find.at}
            onText={(text) => setFind({ text, at: 0 })}
            onStep={step}
            onClose={() => {
              const place = places[find.at];
              setFind(undefined);
              if (place) grid.current?.go(place[0], place[1]);
            }}
          />
        )}
        {sort && (
          <button type="button" className="btn btn-ghost btn-sm gap-1.5 font-normal" onClick={() => setSort(undefined)}>
            <Columns3 size="1.1em" aria-hidden="true" />
            View as entered
          </button>
        )}
        {tools?.(selectedRows)}
        <input
          ref={picker}
          type="file"
          accept=".csv,.tsv,.txt,.xlsx,.ods,.json"
          className="hidden"
          aria-label="Data file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) setWaiting({ block: file, at: { row: 0, column: 0 } });
            event.target.value = "";
          }}
        />
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a shortcut for the button */}
      <div
        onDragOver={(event) => event.dataTransfer.types.includes("Files") && event.preventDefault()}
        onDrop={(event) => {
          const file = event.dataTransfer.files[0];
          if (!file || shared) return;
          event.preventDefault();
          setWaiting({ block: file, at: { row: 0, column: 0 } });
        }}
      >
        <Grid
          ref={grid}
          height={height}
          onBlock={(block, at) => shared || setWaiting({ block, at })}
          onFind={() => setFind({ text: "", at: 0 })}
          looked={looked}
          onLook={onLook}
          leftOut={leftOut}
          found={find ? found : undefined}
          sort={sort}
          onSort={setSort}
          onSelect={setSelection}
        />
      </div>
      {waiting && (
        <ReadDialog
          title={
            typeof waiting.block === "string"
              ? "This is how it will be read"
              : `${waiting.block.name}: this is how it will be read`
          }
          block={waiting.block}
          takes={typeof waiting.block === "string" ? "Put it in" : "Put it in place of the table"}
          onTake={put}
          onClose={() => setWaiting(undefined)}
        />
      )}
      {deriving && <DeriveDialog after={sheet.columns.length - 1} start="" onClose={() => setDeriving(false)} />}
      {reshaping && <ReshapeDialog onClose={() => setReshaping(false)} />}
    </div>
  );
}

interface ToolProps {
  icon: typeof Plus;
  words?: string;
  label?: string;
  title: string;
  onClick: () => void;
}

function Tool({ icon: Icon, words, label, title, onClick }: ToolProps) {
  return (
    <button
      type="button"
      className={`btn btn-ghost btn-sm gap-1.5 px-2 font-normal ${words ? "" : "btn-square"}`}
      aria-label={label}
      title={title}
      onClick={onClick}
    >
      <Icon size="1.15em" aria-hidden="true" />
      {words}
    </button>
  );
}
