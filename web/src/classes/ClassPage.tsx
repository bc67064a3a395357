import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { request } from "../api/client";
import type { ClassRequest, ClassView, SetListing, SetView } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { Dialog } from "../app/Dialog";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { copyText } from "../lib/copy";
import { counted } from "../lib/words";
import { PollCard } from "./PollCard";
import { PollPanel } from "./PollPanel";
import { classQuery, deedsQuery, pollsQuery, setsQuery } from "./queries";
import { Roster } from "./Roster";
import { ago, dueIn, opensWords } from "./when";

/** ClassPage is a class: what is handed out to it, and for its instructors who is in it. */
export function ClassPage() {
  const { id = "" } = useParams();
  return (
    <Fetched title="Class" what="class" fetched={useQuery(classQuery(id))}>
      {(of) => (of.in === "instructor" ? <Taught key={of.id} of={of} /> : <Attended key={of.id} of={of} />)}
    </Fetched>
  );
}

function Attended({ of }: { of: ClassView }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const { data: sets } = useQuery(setsQuery(of.id));
  const leave = useMutation({
    mutationFn: () => request("POST", `/api/classes/${of.id}/leave`),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["classes"] });
      client.invalidateQueries({ queryKey: ["sets"] });
      navigate("/classes");
      toast({ says: `You have left “${of.name}”. What you worked there stays yours.` });
    },
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  return (
    <Shell title={of.name}>
      <div className="mx-auto w-full max-w-3xl flex-1 px-8 py-9 max-sm:px-4 max-sm:py-6">
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">{of.name}</h1>
        <div className="mt-6">
          <PollCard of={of.id} />
        </div>
        <Sets sets={sets} taught={false} />
        {of.names && of.names.length > 0 && (
          <p className="mt-8 text-muted">With you in this class: {of.names.join(", ")}.</p>
        )}
        <button type="button" className="act mt-8 text-[0.95rem]" onClick={() => leave.mutate()}>
          Leave this class
        </button>
      </div>
    </Shell>
  );
}

/** Sets lists the sets of a class. */
function Sets({ sets, taught }: { sets: SetListing[] | undefined; taught: boolean }) {
  if (sets === undefined)
    return (
      <p className="mt-6 text-muted" role="status">
        Fetching the sets …
      </p>
    );
  if (sets.length === 0)
    return (
      <p className="mt-5 text-muted">
        {taught
          ? "Nothing is handed out yet. A set is an ordered list of problems, of your own or of the demo."
          : "Nothing is handed out yet."}
      </p>
    );
  return (
    <ul className="mt-4 border-base-300 border-t" aria-label="Sets">
      {sets.map((set) => (
        <li key={set.id} className="flex flex-wrap items-center gap-x-5 gap-y-1 border-base-300 border-b py-3">
          <div className="min-w-48 flex-1">
            <Link
              to={taught ? `/sets/${set.id}/class` : `/sets/${set.id}`}
              className="font-semibold font-serif text-[1.25rem] hover:text-primary"
            >
              {set.title || "Untitled set"}
            </Link>
            <p className="text-[0.92rem] text-muted">
              {[
                opensWords(set.opens),
                set.due ? dueIn(set.due) : "not due",
                taught ? `${counted(set.attempts ?? 0, "attempt")} begun` : "",
              ]
                .filter(Boolean)
                .join(" · ")}
            </p>
          </div>
          {taught && (
            <span className="flex gap-4">
              <Link to={`/sets/${set.id}/class`} className="act">
                The class
              </Link>
              <Link to={`/sets/${set.id}/edit`} className="act">
                Edit
              </Link>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

function Taught({ of }: { of: ClassView }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const picker = useRef<HTMLInputElement>(null);
  const { data: sets } = useQuery(setsQuery(of.id));
  const fail = (error: Error) => toast({ says: error.message, bad: true });
  const made = (set: SetView) => {
    client.setQueryData(["sets", set.id], set);
    client.invalidateQueries({ queryKey: ["sets", "of"] });
    navigate(`/sets/${set.id}/edit`);
  };
  const make = useMutation({
    mutationFn: () => request<SetView>("POST", `/api/classes/${of.id}/sets`, { title: "" }),
    onSuccess: made,
    onError: fail,
  });
  const bring = useMutation({
    mutationFn: (file: File) => request<SetView>("POST", `/api/classes/${of.id}/sets/bring`, file),
    onSuccess: made,
    onError: fail,
  });
  return (
    <Shell title={of.name}>
      <div className="mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-14 gap-y-8 px-8 py-9 max-sm:px-4 max-sm:py-6 lg:grid-cols-[1fr_21rem]">
        <div>
          <h1 className="font-semibold font-serif text-[2rem] leading-tight">{of.name}</h1>
          <section aria-label="What is handed out" className="mt-6">
            <div className="flex flex-wrap items-center gap-3">
              <h2 className="flex-1 font-semibold text-[1.15rem]">Problem sets</h2>
              <button
                type="button"
                className="btn btn-primary btn-sm"
                disabled={make.isPending}
                onClick={() => make.mutate()}
              >
                New set
              </button>
              <button type="button" className="btn btn-sm" onClick={() => picker.current?.click()}>
                <FileUp size="1.1em" aria-hidden="true" />
                Bring one in
              </button>
              <input
                ref={picker}
                type="file"
                accept=".zip,application/zip"
                className="hidden"
                aria-label="Set as a ZIP"
                onChange={(event) => {
                  const [file] = event.target.files ?? [];
                  if (file) bring.mutate(file);
                  event.target.value = "";
                }}
              />
            </div>
            <Sets sets={sets} taught />
          </section>
          <Roster of={of} />
        </div>
        <aside className="grid content-start gap-6">
          <Code of={of} />
          <ClassSettings of={of} />
          <Asked of={of} />
          <Log of={of} />
        </aside>
      </div>
    </Shell>
  );
}

/** useChange changes a class. */
function useChange(of: ClassView) {
  const client = useQueryClient();
  const toast = useToast();
  return useMutation({
    mutationFn: (part: Partial<ClassRequest>) => {
      const { version, name, guests, first_names, archived } = of;
      return request<ClassView>("PATCH", `/api/classes/${of.id}`, {
        version,
        name,
        guests,
        first_names,
        archived,
        ...part,
      });
    },
    onSuccess: (now) => {
      client.setQueryData(classQuery(of.id).queryKey, now);
      client.invalidateQueries({ queryKey: ["classes"], exact: true });
    },
    onError: (error) => {
      client.invalidateQueries({ queryKey: classQuery(of.id).queryKey });
      toast({ says: error.message, bad: true });
    },
  });
}

/** Code is what students join by: read out, written on the board, or sent as a link. */
function Code({ of }: { of: ClassView }) {
  const change = useChange(of);
  const link = `${location.origin}/classes?join=${of.code}`;
  return (
    <section className="rounded-box border border-base-300 bg-base-200 p-4" aria-label="How students join">
      <h2 className="text-muted">Students join with the code</h2>
      <p className="mt-0.5 font-mono font-semibold text-[1.9rem] tracking-widest" data-testid="class-code">
        {of.code}
      </p>
      <p className="mt-1 flex flex-wrap items-center gap-x-3">
        <CopyButton label="Copy a link to join" words="Copy a link" copy={() => copyText(link)} />
        <button type="button" className="act text-[0.92rem]" onClick={() => change.mutate({ new_code: true })}>
          Another code
        </button>
      </p>
    </section>
  );
}

function ClassSettings({ of }: { of: ClassView }) {
  const change = useChange(of);
  const [name, setName] = useState(of.name);
  const tick = (label: string, on: boolean, part: (on: boolean) => Partial<ClassRequest>) => (
    <label className="flex cursor-pointer items-baseline gap-2.5">
      <input
        type="checkbox"
        className="checkbox checkbox-sm relative top-0.5"
        checked={on}
        onChange={(event) => change.mutate(part(event.target.checked))}
      />
      <span>{label}</span>
    </label>
  );
  return (
    <section className="grid gap-3" aria-label="Settings of the class">
      <h2 className="font-semibold">This class</h2>
      <label className="grid gap-1">
        <span className="text-[0.92rem] text-muted">Its name</span>
        <input
          className="input input-sm w-full bg-sheet"
          value={name}
          maxLength={100}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => name.trim() !== "" && name !== of.name && change.mutate({ name: name.trim() })}
        />
      </label>
      {tick("Who has no account may join, under a name", of.guests, (guests) => ({ guests }))}
      {tick("Students see each other’s first names", of.first_names, (first_names) => ({ first_names }))}
      {tick("Archived: nobody joins, nothing is due", of.archived, (archived) => ({ archived }))}
    </section>
  );
}

/** Asked are the questions that the class was asked, each with its answers. */
function Asked({ of }: { of: ClassView }) {
  const [open, setOpen] = useState(false);
  const [poll, setPoll] = useState("");
  const { data } = useQuery({ ...pollsQuery(of.id), enabled: open });
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="act inline cursor-pointer">What this class was asked</summary>
      {data?.length === 0 && (
        <p className="mt-2 text-muted">Nothing yet. A problem of yours has “Ask the class” at its top.</p>
      )}
      <ul className="mt-2 grid gap-1.5 text-[0.92rem]">
        {data?.map((each) => (
          <li key={each.id}>
            <button type="button" className="act" onClick={() => setPoll(each.id)}>
              {each.label}
            </button>
            <span className="block text-muted">
              {each.title} · {counted(each.answers, "answer")} · {ago(each.opened_at)}
            </span>
          </li>
        ))}
      </ul>
      {poll && (
        <Dialog title={`Asked in ${of.name}`} onClose={() => setPoll("")} whole>
          <PollPanel id={poll} code={of.code} />
        </Dialog>
      )}
    </details>
  );
}

/** Log is what was done in the class that concerns another's work. */
function Log({ of }: { of: ClassView }) {
  const [open, setOpen] = useState(false);
  const { data } = useQuery({ ...deedsQuery(of.id), enabled: open });
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="act inline cursor-pointer">What was done in this class</summary>
      {data?.length === 0 && <p className="mt-2 text-muted">Nothing yet.</p>}
      <ul className="mt-2 grid gap-1.5 text-[0.92rem]">
        {data?.map((deed) => (
          <li key={`${deed.at} ${deed.about} ${deed.what}`}>
            <span className="font-semibold">{deed.by || "Somebody"}</span>
            {deed.about && ` · ${deed.about}`}: {deed.what}, <span className="text-muted">{ago(deed.at)}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
