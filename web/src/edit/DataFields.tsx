import { useQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { dataSetsQuery, SheetProvider, type SheetView, useCheck } from "../data/context";
import { DataTable } from "../data/DataTable";
import { FormSwitch } from "../data/FormSwitch";
import type { GridHandle } from "../data/Grid";
import { followNames } from "../data/rename";
import { useDraft } from "./draft";
import { Mistake } from "./Field";
import { LeaveOutFields, LeaveOutTool } from "./LeaveOut";
import { SummaryFields } from "./SummaryFields";
import { summaryOf } from "./summary";

/** useDraftSheet returns the data set of the draft, for the parts that show and change it. */
export function useDraftSheet(): SheetView {
  const { kept, dataSet } = useDraft();
  const { keeping } = kept;
  const { version = 0 } = kept.base.sets.get(dataSet) ?? {};
  const checked = useCheck(dataSet, version);
  const { sheet } = kept.state;
  return useMemo(
    () => ({
      id: dataSet,
      version,
      sheet,
      change: (says, next) =>
        keeping.change(says, (state) => {
          const changed = next(state.sheet);
          if (changed === state.sheet) return state;
          return { ...state, sheet: changed, draft: followNames(state.draft, state.sheet, changed) };
        }),
      undo: keeping.undo,
      redo: keeping.redo,
      flush: keeping.flush,
      ...checked,
    }),
    [dataSet, version, sheet, keeping, checked],
  );
}

/** DataFields are the data that the problem is about: a data set, or only a summary. */
export function DataFields() {
  const { draft, change, mistakes } = useDraft();
  const view = useDraftSheet();
  const table = useRef<GridHandle>(null);
  const leftOut = useMemo(
    () => new Map(draft.leave_out.map((left) => [left.case - 1, left.reason ?? ""])),
    [draft.leave_out],
  );
  const summary = draft.entry === "summary";
  const inTable = mistakes.filter((mistake) => mistake.pointer.startsWith("/columns"));
  const summarySwitch = (
    <button
      type="button"
      aria-pressed={summary}
      className={`cursor-pointer rounded-[0.5rem] px-2.5 py-0.5 ${summary ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
      onClick={() =>
        change("form of the data", (d) => ({
          ...d,
          entry: "summary",
          summary: summaryOf(d),
        }))
      }
    >
      Only n, mean and sd
    </button>
  );
  return (
    <SheetProvider value={view}>
      {summary ? (
        <>
          {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
          <div
            role="group"
            aria-label="Form of the data"
            className="flex w-fit flex-wrap rounded-selector bg-base-200 p-0.5"
          >
            <button
              type="button"
              aria-pressed={false}
              className="cursor-pointer rounded-[0.5rem] px-2.5 py-0.5 text-muted hover:text-ink"
              onClick={() => change("form of the data", (d) => ({ ...d, entry: "data" }))}
            >
              From a table
            </button>
            {summarySwitch}
          </div>
          <SummaryFields />
        </>
      ) : (
        <>
          <WhichData />
          <FormSwitch more={summarySwitch} />
          <DataTable
            ref={table}
            height="24rem"
            leftOut={view.sheet.form === "cases" ? leftOut : undefined}
            tools={view.sheet.form === "cases" ? (rows) => <LeaveOutTool rows={rows} /> : undefined}
          />
          <div role="alert">
            {inTable.slice(0, 4).map((mistake) => {
              const [, , column, field, row] = mistake.pointer.split("/");
              return (
                <div key={mistake.pointer + mistake.says} className="flex flex-wrap items-baseline gap-2">
                  <Mistake says={mistake.says} instead={mistake.instead} />
                  {field === "cells" && (
                    <button
                      type="button"
                      className="act"
                      onClick={() => table.current?.go(Number(row), Number(column))}
                    >
                      Go there
                    </button>
                  )}
                </div>
              );
            })}
            {inTable.length > 4 && (
              <p className="text-(--region-text)">And {inTable.length - 4} more, marked in the table.</p>
            )}
          </div>
          {view.sheet.form === "cases" && <LeaveOutFields />}
        </>
      )}
    </SheetProvider>
  );
}

/** WhichData chooses the data set that the problem is about. */
function WhichData() {
  const { dataSet, takeDataSet, kept } = useDraft();
  const { data: sets } = useQuery(dataSetsQuery);
  const [waiting, setWaiting] = useState(false);
  const own = sets?.find((set) => set.id === dataSet);
  const name = kept.state.sheet.name;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <label className="flex items-center gap-2">
        <span className="text-muted">Data set</span>
        <select
          aria-label="Data set"
          className="select select-sm w-60 bg-sheet"
          value={dataSet}
          disabled={waiting}
          onChange={(event) => {
            setWaiting(true);
            takeDataSet(event.target.value).finally(() => setWaiting(false));
          }}
        >
          {!own && <option value={dataSet}>{name || "a new one, for this problem"}</option>}
          {sets?.map((set) => (
            <option key={set.id} value={set.id}>
              {set.id === dataSet
                ? name || "this problem’s own"
                : set.name || (set.title ? `data of “${set.title}”` : "untitled")}
            </option>
          ))}
        </select>
      </label>
      {own && own.problems > 1 && (
        <span className="text-muted">
          {own.problems - 1} other {own.problems === 2 ? "problem uses" : "problems use"} it too
        </span>
      )}
      {own && (
        <Link to={`/data/${dataSet}`} className="act">
          Look at the data
        </Link>
      )}
    </div>
  );
}
