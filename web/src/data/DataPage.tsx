import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, RotateCcw, Trash2 } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { request } from "../api/client";
import type { KeptSet } from "../api/types";
import { Fetched } from "../app/Fetched";
import { SavedState, UndoRedo } from "../app/SavedState";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { useDeletion } from "../app/useDeletion";
import { noteOpened } from "../lib/finding";
import { useKeeping } from "../lib/keepings";
import { useShortcuts } from "../lib/keys";
import { allOf, dataSetQuery, type HeldSet, SheetProvider, type SheetView, saveSheet, useCheck } from "./context";
import { DataTable } from "./DataTable";
import { FormSwitch } from "./FormSwitch";
import type { GridHandle } from "./Grid";
import { type LookChoices, LookPanel } from "./LookPanel";
import { alike, type Sheet, sheetOf } from "./sheet";

/** DataPage is a data set: its table at the left, what is to be seen in it at the right. */
export function DataPage() {
  const { id = "" } = useParams();
  useEffect(() => noteOpened(id), [id]);
  return (
    <Fetched title="Data" what="data set" fetched={useQuery(dataSetQuery(id))}>
      {(held) => <Page key={held.id} held={held} />}
    </Fetched>
  );
}

/** useKeptSheet holds a data set that is kept on the server, with its version. */
function useKeptSheet(held: HeldSet) {
  const client = useQueryClient();
  const refresh = () => {
    client.invalidateQueries({ queryKey: ["data-sets"] });
    client.invalidateQueries({ queryKey: ["problem"] });
  };
  return useKeeping<Sheet, number>(
    `data:${held.id}`,
    { state: held.sheet, base: held.version },
    {
      quiet: 500,
      together: 1500,
      alike,
      save: async (sheet, kept) => {
        const { version } = await saveSheet(held.id, kept.base, sheet, kept.state);
        client.setQueryData(dataSetQuery(held.id).queryKey, { ...held, sheet, version });
        refresh();
        return version;
      },
      theirs: async () => {
        const { sheet, version } = await client.fetchQuery({ ...dataSetQuery(held.id), staleTime: 0 });
        refresh();
        return { state: sheet, base: version };
      },
    },
  );
}

function Page({ held }: { held: HeldSet }) {
  const kept = useKeptSheet(held);
  const { state: sheet, base: version, keeping } = kept;
  // What came anew from the server is shown, unless something here is not kept yet.
  useEffect(() => {
    if (held.version > keeping.snapshot().base) keeping.adopt({ state: held.sheet, base: held.version });
  }, [held, keeping]);
  const checked = useCheck(held.id, version);
  const [params] = useSearchParams();
  const [looked, setLooked] = useState<string[]>(() => params.getAll("look"));
  const table = useRef<GridHandle>(null);
  const { change, undo, redo, flush } = keeping;
  const view = useMemo<SheetView>(
    () => ({ id: held.id, version, sheet, change, undo, redo, flush, ...checked }),
    [held.id, version, sheet, change, undo, redo, flush, checked],
  );
  const choices = useLookChoices(view, looked);
  useShortcuts([
    { key: "Ctrl+z", says: "Undo", act: undo },
    { key: "Ctrl+y", says: "Redo", act: redo },
  ]);
  // With one column a group, or a table of counts, the variables are not the columns.
  const byColumn = sheet.form === "cases";
  const lookAt = (key: number, add: boolean) => {
    const name = sheet.columns.find((column) => column.key === key)?.name.trim();
    if (!byColumn) return setLooked(choices.names.map((each) => each.value).slice(0, 2));
    if (!name) return;
    if (!add) return setLooked([name]);
    setLooked(
      [choices.chosen[0], name].filter((each, i, all): each is string => Boolean(each) && all.indexOf(each) === i),
    );
  };
  const lookedKeys = byColumn
    ? sheet.columns.filter((column) => choices.chosen.includes(column.name.trim())).map((column) => column.key)
    : [];
  return (
    <Shell title={sheet.name || "Untitled data"}>
      <SheetProvider value={view}>
        <div className="grid flex-1 grid-cols-1 content-start gap-x-7 gap-y-6 px-6 py-4 max-sm:px-3 lg:grid-cols-[minmax(0,1fr)_24rem]">
          <div className="grid min-w-0 grid-cols-1 content-start gap-2 lg:sticky lg:top-16 lg:self-start">
            <Heading kept={kept} held={held} />
            <FormSwitch />
            <DataTable ref={table} height="max(20rem, calc(100dvh - 17.5rem))" looked={lookedKeys} onLook={lookAt} />
          </div>
          <aside className="min-w-0">
            <LookPanel
              choices={choices}
              problem={params.get("problem")}
              onChoose={setLooked}
              onCases={([number]) => {
                const column = sheet.columns.findIndex((each) => each.name.trim() === choices.chosen[0]);
                if (number !== undefined && byColumn) table.current?.go(number - 1, Math.max(0, column));
              }}
            />
          </aside>
        </div>
      </SheetProvider>
    </Shell>
  );
}

/** useLookChoices returns the variables that can be looked at, and those that still exist of the chosen ones. */
function useLookChoices({ sheet, profiles }: SheetView, looked: string[]): LookChoices {
  return useMemo(() => {
    let names: LookChoices["names"];
    if (sheet.form === "groups") {
      names = [
        { value: "response", label: sheet.response.label || "the values" },
        { value: "group", label: sheet.group.label || "the groups" },
      ];
    } else if (sheet.form === "counts") {
      const first = sheet.columns[0]?.label || sheet.columns[0]?.name || "row";
      names = [{ value: first, label: first }];
      if (sheet.columns.length > 2)
        names.push({ value: sheet.group.label || "column", label: sheet.group.label || "the columns" });
    } else {
      names = sheet.columns
        .filter((column) => column.name.trim() && (column.kind || profiles.get(column.key)?.kind) !== "identifier")
        .map((column) => ({ value: column.name.trim(), label: column.label || column.name }));
    }
    return { names, chosen: looked.filter((name) => names.some((each) => each.value === name)) };
  }, [sheet, profiles, looked]);
}

const formats = ["csv", "tsv", "xlsx", "ods", "json"];

/** Heading names the data set, says whether it is kept, and holds what is done with it as a whole. */
function Heading({ kept, held }: { kept: ReturnType<typeof useKeptSheet>; held: HeldSet }) {
  const { state: sheet, keeping } = kept;
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const at = `/api/data-sets/${held.id}`;
  const refresh = () => client.invalidateQueries({ queryKey: ["data-sets"] });
  const fail = (error: Error) => toast({ says: error.message, bad: true });
  const copy = useMutation({
    mutationFn: async () => {
      await keeping.flush();
      return request<KeptSet>("POST", `${at}/copy`, { name: `${sheet.name || "Untitled data"} (copy)` });
    },
    onSuccess: (twin) => {
      refresh();
      navigate(`/data/${twin.id}`);
      toast({ says: "This is the copy; the first one stays as it is." });
    },
    onError: fail,
  });
  const reset = useMutation({
    mutationFn: async () => {
      await keeping.flush();
      return allOf(await request<KeptSet>("POST", `${at}/reset`, { version: keeping.snapshot().base }));
    },
    onSuccess: (fresh) => {
      const first = sheetOf(fresh.set as NonNullable<KeptSet["set"]>);
      keeping.take("set back as it was at first", { state: first, base: fresh.version });
      client.setQueryData(dataSetQuery(held.id).queryKey, { ...held, sheet: first, version: fresh.version });
      refresh();
    },
    onError: fail,
  });
  const remove = useDeletion({
    at,
    version: async () => {
      await keeping.flush();
      return keeping.snapshot().base;
    },
    says: `“${sheet.name || "Untitled data"}” is deleted. Problems that use it keep it.`,
    refresh,
    leave: () => navigate("/data"),
  });
  return (
    <div>
      <div className="flex flex-wrap items-center gap-x-1">
        <input
          aria-label="Name of the data set"
          className="-ml-1.5 min-w-40 flex-1 rounded bg-transparent px-1.5 font-semibold font-serif text-[1.5rem] outline-none hover:bg-base-200 focus:bg-base-200"
          placeholder="Untitled data"
          value={sheet.name}
          onChange={(event) => keeping.change("name of the data set", (s) => ({ ...s, name: event.target.value }))}
        />
        <UndoRedo kept={kept} />
        <details className="dropdown dropdown-end">
          <summary className="btn btn-ghost btn-sm gap-1.5">
            <Download size="1.1em" aria-hidden="true" />
            Save as
          </summary>
          <ul className="dropdown-content z-30 grid w-36 gap-0.5 rounded-box border border-base-300 bg-base-100 p-1.5 shadow-lg">
            {formats.map((format) => (
              <li key={format}>
                <a
                  href={`${at}/file?format=${format}`}
                  download
                  className="btn btn-ghost btn-sm w-full justify-start font-normal"
                >
                  {format.toUpperCase()}
                </a>
              </li>
            ))}
          </ul>
        </details>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label="Make a copy"
          title="Make a copy"
          onClick={() => copy.mutate()}
        >
          <Copy size="1.1em" aria-hidden="true" />
        </button>
        {held.demo && (
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            aria-label="Set back as it was at first"
            title="Set back as it was at first"
            onClick={() => reset.mutate()}
          >
            <RotateCcw size="1.1em" aria-hidden="true" />
          </button>
        )}
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label="Delete the data set"
          title="Delete the data set"
          onClick={() => remove()}
        >
          <Trash2 size="1.1em" aria-hidden="true" />
        </button>
      </div>
      <div className="flex flex-wrap items-start gap-x-4">
        <textarea
          aria-label="What it holds"
          rows={1}
          className="field-sizing-content -ml-1.5 min-h-[24px] min-w-52 flex-1 resize-none rounded bg-transparent px-1.5 text-muted outline-none hover:bg-base-200 focus:bg-base-200"
          placeholder="A line that says what it holds"
          value={sheet.about}
          onChange={(event) => keeping.change("what the data set holds", (s) => ({ ...s, about: event.target.value }))}
        />
        <div className="-mt-4">
          <SavedState kept={kept} what="data set" />
        </div>
      </div>
    </div>
  );
}
