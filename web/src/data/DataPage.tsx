import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, RotateCcw, Trash2 } from "lucide-react";
import { useEffect, useMemo } from "react";
import { useNavigate, useParams } from "react-router";
import { request } from "../api/client";
import type { KeptSet } from "../api/types";
import { Fetched } from "../app/Fetched";
import { SavedState, UndoRedo } from "../app/SavedState";
import { ShareButton } from "../app/Share";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { useDeletion } from "../app/useDeletion";
import { noteOpened } from "../lib/finding";
import { useKeeping } from "../lib/keepings";
import { useShortcuts } from "../lib/keys";
import { allOf, dataSetQuery, type HeldSet, SheetProvider, type SheetView, saveSheet, useCheck } from "./context";
import { FormSwitch } from "./FormSwitch";
import { SaveAs } from "./SaveAs";
import { SetView } from "./SetView";
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
  const { change, undo, redo, flush } = keeping;
  const view = useMemo<SheetView>(
    () => ({ id: held.id, version, sheet, change, undo, redo, flush, ...checked }),
    [held.id, version, sheet, change, undo, redo, flush, checked],
  );
  useShortcuts([
    { key: "Ctrl+z", says: "Undo", act: undo },
    { key: "Ctrl+y", says: "Redo", act: redo },
  ]);
  return (
    <Shell title={sheet.name || "Untitled data"}>
      <SheetProvider value={view}>
        <SetView heading={<Heading kept={kept} held={held} />}>
          <FormSwitch />
        </SetView>
      </SheetProvider>
    </Shell>
  );
}

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
      return allOf(await request<KeptSet>("POST", `${at}/reset`, { version: keeping.snapshot().base }), at);
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
        <SaveAs path={`${at}/file`} />
        <ShareButton at={at} what="data set" />
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
            disabled={reset.isPending}
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
