import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { FolderOpen, Plus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { request } from "../api/client";
import type { DataListing, DataSet, KeptSet, Space } from "../api/types";
import { Finder } from "../app/Finder";
import { Message } from "../app/Message";
import { SharedBy } from "../app/Share";
import { Shell } from "../app/Shell";
import { found, lastUsedFirst } from "../lib/finding";
import { useShortcuts } from "../lib/keys";
import { counted } from "../lib/words";
import { dataSetsQuery } from "./context";
import { type Import, useImport } from "./import";
import { ReadDialog } from "./ReadDialog";

/** Text files up to this size are shown before they are taken; longer ones are read as they come. */
const shownBefore = 4 << 20;
/** Spreadsheets, in which a sheet has to be chosen, are shown up to this size. */
const sheetsShownBefore = 32 << 20;

/** DataListPage has the demo's data sets and the person's own, and the ways to begin another. */
export function DataListPage() {
  const { data: sets, error, refetch } = useQuery(dataSetsQuery);
  const navigate = useNavigate();
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const [waiting, setWaiting] = useState<string | File>();
  const reading = useImport((id) => {
    client.invalidateQueries({ queryKey: ["data-sets"] });
    navigate(`/data/${id}`);
  });
  const create = useMutation({
    mutationFn: (set: DataSet | undefined) => request<KeptSet>("POST", "/api/data-sets", set),
    onSuccess: (kept) => {
      client.invalidateQueries({ queryKey: ["data-sets"] });
      navigate(`/data/${kept.id}`);
    },
  });
  const take = (file: File | undefined) => {
    if (!file) return;
    if (file.size > (/\.(xlsx|ods)$/i.test(file.name) ? sheetsShownBefore : shownBefore)) reading.begin(file);
    else setWaiting(file);
  };
  useShortcuts([
    { key: "n", says: "New data set", act: () => create.mutate(undefined) },
    { key: "o", says: "Open a data file", act: () => picker.current?.click() },
  ]);
  // A block that is pasted anywhere on the page becomes a data set.
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      if ((event.target as Element).closest?.("input, textarea, dialog")) return;
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (text.trim() !== "") setWaiting(text);
    };
    document.addEventListener("paste", paste);
    return () => document.removeEventListener("paste", paste);
  }, []);
  if (error && !sets) {
    return (
      <Shell title="Data">
        <Message title="The data sets cannot be shown." says={error.message} retry={() => refetch()} />
      </Shell>
    );
  }
  const nameOf = (block: string | File) => (typeof block === "string" ? "" : block.name.replace(/\.[a-z0-9]+$/i, ""));
  return (
    <Shell title="Data">
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a shortcut for the button */}
      <div
        className="mx-auto w-full max-w-4xl flex-1 px-8 py-8 max-sm:px-4"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          take(event.dataTransfer.files[0]);
        }}
      >
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">Data</h1>
        <p className="mt-1 max-w-xl text-muted">
          Paste a block from anywhere, drop a file, or begin with an empty table. A data set serves as many problems as
          you like.
        </p>
        <div className="mt-5 flex flex-wrap gap-3">
          <button
            type="button"
            className="btn btn-primary"
            disabled={create.isPending}
            onClick={() => create.mutate(undefined)}
          >
            <Plus size="1.2em" aria-hidden="true" />
            New data set
          </button>
          <button type="button" className="btn btn-outline border-base-300" onClick={() => picker.current?.click()}>
            <FolderOpen size="1.2em" aria-hidden="true" />
            Open a data file
          </button>
          <input
            ref={picker}
            type="file"
            accept=".csv,.tsv,.txt,.xlsx,.ods,.json"
            className="hidden"
            aria-label="Data file"
            onChange={(event) => {
              take(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
        </div>
        <Reading reading={reading} />
        <SpaceLeft />
        {create.isError && (
          <p role="alert" className="mt-4 border-region border-l-2 pl-3 text-(--region-text)">
            {create.error.message}
          </p>
        )}
        {sets === undefined ? (
          <p className="mt-8 text-muted" role="status">
            Fetching the data sets …
          </p>
        ) : (
          <Found sets={sets} />
        )}
        {waiting !== undefined && (
          <ReadDialog
            title={
              typeof waiting === "string"
                ? "This is how it will be read"
                : `${waiting.name}: this is how it will be read`
            }
            block={waiting}
            takes="Make it a data set"
            onTake={(set) => create.mutate({ ...set, name: nameOf(waiting) })}
            onClose={() => setWaiting(undefined)}
          />
        )}
      </div>
    </Shell>
  );
}

/** SpaceLeft says how much of the space is taken, before it is all taken. */
function SpaceLeft() {
  const { data: space } = useQuery({
    queryKey: ["data-sets", "space"],
    queryFn: () => request<Space>("GET", "/api/space"),
  });
  if (!space || space.used < 0.8 * space.limit) return null;
  return (
    <p role="status" className="mt-4 border-region border-l-2 pl-3">
      Your data sets take {Math.floor((100 * space.used) / space.limit)} % of the space that there is. Delete what you
      no longer need: it can be restored for 30 days, and makes room after that.
    </p>
  );
}

/** Reading shows how far a long file has been read, and stops it. */
function Reading({ reading }: { reading: Import }) {
  if (reading.error) {
    return (
      <p role="alert" className="mt-4 border-region border-l-2 pl-3 text-(--region-text)">
        {reading.file?.name} was not opened, and nothing of it is kept. {reading.error}
      </p>
    );
  }
  if (!reading.running) return null;
  return (
    <div className="mt-4 flex items-center gap-3" role="status">
      <progress className="progress progress-primary w-64" value={reading.done} max={1} aria-label="Read so far" />
      <span className="text-muted">
        {reading.done < 1
          ? `${Math.floor(100 * reading.done)} % of ${reading.file?.name}`
          : `Keeping ${reading.file?.name} …`}
      </span>
      <button type="button" className="btn btn-sm" onClick={reading.stop}>
        Stop
      </button>
    </div>
  );
}

/** From so many data sets on they can be looked through. */
const many = 7;

/** Found has the data sets, those that were used last first; what is looked for narrows them. */
function Found({ sets }: { sets: DataListing[] }) {
  const [looked, setLooked] = useState("");
  const seen = found(lastUsedFirst(sets), looked, (set) => `${titleOf(set)} ${set.about} ${set.columns.join(" ")}`);
  const own = seen.filter((set) => !set.demo);
  const demo = seen.filter((set) => set.demo);
  return (
    <>
      {sets.length >= many && (
        <div className="mt-7">
          <Finder what="the data sets" looked={looked} onLook={setLooked} />
        </div>
      )}
      {looked !== "" && seen.length === 0 && (
        <p className="mt-6 text-muted" role="status">
          No data set has “{looked}” in its name, its description or its columns.
        </p>
      )}
      {(own.length > 0 || looked === "") && <List title="Yours" sets={own} />}
      {own.length === 0 && looked === "" && (
        <p className="mt-2 text-muted">
          Nothing here yet. <strong>Ctrl+V</strong> on this page turns what you copied into a data set.
        </p>
      )}
      {demo.length > 0 && <List title="From the Kelpwick harbour office" sets={demo} />}
    </>
  );
}

/** titleOf is what a data set is called, by a problem that uses it where it has no name. */
const titleOf = (set: DataListing): string => set.name || (set.title ? `Data of “${set.title}”` : "Untitled data");

function List({ title, sets }: { title: string; sets: DataListing[] }) {
  return (
    <section className="mt-8">
      <h2 className="border-base-300 border-b pb-1.5 font-semibold text-muted">{title}</h2>
      <ul>
        {sets.map((set) => (
          <li key={set.id} className="grid grid-cols-[1fr_auto] gap-x-6 border-base-300 border-b py-2.5">
            <div className="min-w-0">
              <Link to={`/data/${set.id}`} className="font-semibold font-serif text-[1.15rem] hover:text-primary">
                {titleOf(set)}
              </Link>
              <p className="text-muted">
                {set.about || set.columns.filter(Boolean).join(", ")}
                {set.shared && <SharedBy at={`/api/data-sets/${set.id}`} what="data set" />}
              </p>
            </div>
            <p className="text-right text-[0.9rem] text-muted">
              {counted(set.rows, "row")} × {set.width}
              {set.problems > 0 && <span className="block">{counted(set.problems, "problem")}</span>}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
