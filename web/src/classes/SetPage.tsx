import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, Eye, Printer, Trash2, Users } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { request } from "../api/client";
import { problemsQuery } from "../api/queries";
import type { Settings, SetView } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Fetched } from "../app/Fetched";
import { Finder } from "../app/Finder";
import { SavedState, UndoRedo } from "../app/SavedState";
import { Shell } from "../app/Shell";
import { moved, Sortable, useSortableRow } from "../app/Sortable";
import { useToast } from "../app/toasts";
import { found } from "../lib/finding";
import type { Way } from "../lib/keeping";
import { useKeeping } from "../lib/keepings";
import { useShortcuts } from "../lib/keys";
import { same } from "../lib/same";
import { counted } from "../lib/words";
import { Begun } from "./Begun";
import { CopySet } from "./CopySet";
import { OnPaper } from "./OnPaper";
import { PointsDialog } from "./PointsDialog";
import { setQuery } from "./queries";
import { SetFields } from "./SetFields";
import { type EditedProblem, type EditedSet, editedOf, missing, requestOf } from "./set";
import { Variants } from "./Variants";

/** SetPage is where a set is made: its problems in their order, and how they are handed out. */
export function SetPage() {
  const { id = "" } = useParams();
  return (
    <Fetched title="Set" what="set" fetched={useQuery(setQuery(id))}>
      {(set) => <Loaded key={set.id} set={set} />}
    </Fetched>
  );
}

/** useKeptSet holds a set while it is changed. */
function useKeptSet(set: SetView) {
  const client = useQueryClient();
  const known = useRef(new Map<string, string>()); // the ids that the server gave to problems that were new
  const way: Way<EditedSet, SetView> = {
    quiet: 600,
    together: 1500,
    same,
    save: async (edited, kept) => {
      const body = requestOf(edited, kept.base.version, known.current);
      const written = await request<SetView>("PUT", `/api/sets/${set.id}`, body);
      edited.problems.forEach((problem, i) => {
        const there = written.problems[i];
        if (there && problem.from) known.current.set(problem.id, there.id);
      });
      client.setQueryData(setQuery(set.id).queryKey, written);
      client.invalidateQueries({ queryKey: ["sets", "of"] });
      client.invalidateQueries({ queryKey: ["sets", set.id, "work"] });
      return written;
    },
    theirs: async () => editedOf(await client.fetchQuery({ ...setQuery(set.id), staleTime: 0 })),
  };
  return useKeeping<EditedSet, SetView>(`set:${set.id}`, editedOf(set), way);
}

function Loaded({ set }: { set: SetView }) {
  const kept = useKeptSet(set);
  const { state, base, keeping } = kept;
  const navigate = useNavigate();
  const toast = useToast();
  const client = useQueryClient();
  const [adding, setAdding] = useState(false);
  const [checking, setChecking] = useState(false);
  const [printing, setPrinting] = useState(false);
  const [copying, setCopying] = useState(false);
  const [pointsOf, setPointsOf] = useState<EditedProblem | null>(null);
  const change = (says: string, part: Partial<EditedSet>) => keeping.change(says, (now) => ({ ...now, ...part }));
  const setting = (says: string, part: Partial<Settings>) =>
    keeping.change(says, (now) => ({ ...now, settings: { ...now.settings, ...part } }));
  useShortcuts([
    { key: "Ctrl+z", says: kept.canUndo ? `Undo: ${kept.canUndo}` : "Undo the last change", act: keeping.undo },
    { key: "Ctrl+y", says: "Redo", act: keeping.redo },
  ]);
  const fail = (error: Error) => toast({ says: error.message, bad: true });
  const remove = useMutation({
    mutationFn: async () => {
      await keeping.flush();
      await request("DELETE", `/api/sets/${set.id}`);
    },
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["sets", "of"] });
      navigate(`/classes/${set.class}`);
      toast({
        says: `“${state.settings.title || "Untitled set"}” is deleted, with what was worked on it.`,
        action: {
          label: "Undo",
          act: () =>
            request("POST", `/api/sets/${set.id}/restore`)
              .then(() => client.invalidateQueries({ queryKey: ["sets"] }))
              .catch(fail),
        },
      });
    },
    onError: fail,
  });
  const lacks = missing(state);
  return (
    <Shell title={state.settings.title || "Untitled set"}>
      <div className="mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-14 gap-y-8 px-8 py-9 max-sm:px-4 max-sm:py-6 lg:grid-cols-[1fr_22rem]">
        <div className="min-w-0">
          <div className="flex flex-wrap items-center justify-between gap-2">
            <Link to={`/classes/${set.class}`} className="inline-block min-h-[24px] py-0.5 text-muted hover:text-ink">
              {set.class_name}
            </Link>
            <UndoRedo kept={kept} />
          </div>
          <textarea
            aria-label="Title of the set"
            rows={1}
            className="field-sizing-content -ml-1.5 block w-full resize-none overflow-hidden rounded bg-transparent px-1.5 font-semibold font-serif text-[2rem] leading-tight outline-none hover:bg-base-200 focus:bg-base-200"
            placeholder="Title of the set"
            value={state.settings.title}
            maxLength={200}
            onChange={(event) => setting("the title", { title: event.target.value.replaceAll("\n", " ") })}
            onKeyDown={(event) => {
              if (event.key === "Enter") event.currentTarget.blur(); // a title is one line
            }}
          />
          <textarea
            aria-label="A word to the students"
            rows={1}
            className="field-sizing-content -ml-1.5 mt-1 min-h-[2rem] w-full resize-none rounded bg-transparent px-1.5 text-muted outline-none hover:bg-base-200 focus:bg-base-200"
            placeholder="A word to the students"
            value={state.settings.about ?? ""}
            maxLength={5000}
            onChange={(event) => setting("the word to the students", { about: event.target.value || undefined })}
          />
          <section aria-label="Problems of the set" className="mt-6">
            <div className="flex flex-wrap items-center gap-3">
              <h2 className="flex-1 font-semibold text-[1.15rem]">{counted(state.problems.length, "problem")}</h2>
              <button type="button" className="btn btn-primary btn-sm" onClick={() => setAdding(true)}>
                Add problems
              </button>
            </div>
            {state.problems.length === 0 && (
              <p className="mt-3 text-muted">Nothing is in it yet. Add problems of your own or of the demo.</p>
            )}
            <Sortable
              ids={state.problems.map(({ id }) => id)}
              thing="problem"
              onMove={(id, over) => change("the order", { problems: moved(state.problems, id, over) })}
            >
              <ol className="mt-3" aria-label="Problems in their order">
                {state.problems.map((problem, i) => (
                  <ProblemRow
                    key={problem.id}
                    problem={problem}
                    place={i + 1}
                    onPoints={() => setPointsOf(problem)}
                    onRemove={() => {
                      change("a problem taken out", { problems: state.problems.filter((each) => each !== problem) });
                      toast({
                        says: `“${problem.title}” is out of the set. Who has begun it may go on.`,
                        action: { label: "Undo", act: keeping.undo },
                      });
                    }}
                  />
                ))}
              </ol>
            </Sortable>
          </section>
          <SavedState kept={kept} what="set" />
          {base.attempts > 0 && <Begun set={base} before={() => keeping.flush()} />}
          <div className="mt-8 flex flex-wrap gap-3">
            <Link to={`/sets/${set.id}`} className="btn btn-sm">
              <Eye size="1.1em" aria-hidden="true" />
              See it as a student
            </Link>
            <Link to={`/sets/${set.id}/class`} className="btn btn-sm">
              <Users size="1.1em" aria-hidden="true" />
              The class
            </Link>
            {state.problems.length > 0 && (
              <button
                type="button"
                className="btn btn-sm"
                onClick={async () => {
                  if (await keeping.flush()) setPrinting(true);
                }}
              >
                <Printer size="1.1em" aria-hidden="true" />
                On paper
              </button>
            )}
            <a href={`/api/sets/${set.id}/file`} download className="btn btn-sm">
              <Download size="1.1em" aria-hidden="true" />
              Take along
            </a>
            <button type="button" className="btn btn-sm" onClick={() => setCopying(true)}>
              <Copy size="1.1em" aria-hidden="true" />
              Make a copy
            </button>
            <button type="button" className="btn btn-sm" onClick={() => remove.mutate()}>
              <Trash2 size="1.1em" aria-hidden="true" />
              Delete
            </button>
          </div>
          {lacks.length > 0 && <p className="mt-4 text-muted">Before it is of use it wants {lacks.join(" and ")}.</p>}
        </div>
        <aside className="grid content-start gap-6">
          <SetFields
            settings={state.settings}
            released={state.released}
            onSet={setting}
            onRelease={(released) =>
              change(released ? "the solution released" : "the solution taken back", { released })
            }
          />
          {state.settings.other_numbers && state.problems.length > 0 && (
            <button
              type="button"
              className="btn btn-sm w-fit"
              onClick={async () => {
                if (await keeping.flush()) setChecking(true);
              }}
            >
              Check everybody’s numbers
            </button>
          )}
        </aside>
      </div>
      {adding && (
        <AddProblems
          onClose={() => setAdding(false)}
          onAdd={(added) => {
            setAdding(false);
            change(added.length === 1 ? "a problem added" : "problems added", {
              problems: [...state.problems, ...added],
            });
          }}
        />
      )}
      {pointsOf && (
        <PointsDialog
          problem={pointsOf}
          before={() => keeping.flush()}
          place={() => {
            const at = state.problems.findIndex((each) => each.id === pointsOf.id);
            return keeping.snapshot().base.problems[at]?.id ?? "";
          }}
          onPoints={(points) =>
            change("points", {
              problems: state.problems.map((each) => (each.id === pointsOf.id ? { ...each, points } : each)),
            })
          }
          onClose={() => setPointsOf(null)}
        />
      )}
      {copying && <CopySet set={set} before={() => keeping.flush()} onClose={() => setCopying(false)} />}
      {printing && <OnPaper set={base} onClose={() => setPrinting(false)} />}
      {checking && <Variants set={base} onClose={() => setChecking(false)} />}
    </Shell>
  );
}

interface RowProps {
  problem: EditedProblem;
  place: number;
  onPoints: () => void;
  onRemove: () => void;
}

function ProblemRow({ problem, place, onPoints, onRemove }: RowProps) {
  const { ref, style, isDragging, grip } = useSortableRow(problem.id, `problem ${place}`);
  const special = Object.values(problem.points).filter((points) => points !== 1).length;
  return (
    <li
      ref={ref}
      style={style}
      className={`flex items-center gap-2 border-base-300 border-b py-2 ${isDragging ? "relative z-10 bg-base-200 opacity-80 shadow-lg" : ""}`}
    >
      {grip}
      <span className="w-5 text-muted tabular-nums">{place}</span>
      <span className="min-w-0 flex-1 font-serif text-[1.15rem]">{problem.title}</span>
      <button type="button" className="act text-[0.95rem]" onClick={onPoints}>
        {special > 0 ? `points: ${special} of their own` : "points"}
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`Take “${problem.title}” out`}
        title="Take it out of the set"
        onClick={onRemove}
      >
        <Trash2 size="1.1em" aria-hidden="true" />
      </button>
    </li>
  );
}

interface AddProps {
  onClose: () => void;
  onAdd: (problems: EditedProblem[]) => void;
}

/** AddProblems takes problems of one's own, and of the demo, into the set. */
function AddProblems({ onClose, onAdd }: AddProps) {
  const { data: problems, error } = useQuery(problemsQuery);
  const [looked, setLooked] = useState("");
  const [taken, setTaken] = useState<readonly string[]>([]);
  const seen = useMemo(
    () => found(problems ?? [], looked, (each) => `${each.title} ${each.question} ${each.procedure_title}`),
    [problems, looked],
  );
  const add = () =>
    onAdd(
      taken.flatMap((from) => {
        const problem = problems?.find((each) => each.id === from);
        return problem
          ? [{ id: crypto.randomUUID(), title: problem.title || "Untitled problem", points: {}, from }]
          : [];
      }),
    );
  return (
    <Dialog title="Add problems" onClose={onClose} wide>
      <Finder what="your problems" looked={looked} onLook={setLooked} />
      {error && (
        <p role="alert" className="mt-3 text-(--region-text)">
          {error.message}
        </p>
      )}
      <ul className="mt-3 max-h-[50dvh] overflow-y-auto border-base-300 border-y">
        {seen.map((problem) => (
          <li key={problem.id} className="border-base-300 border-b last:border-0">
            <label className="flex cursor-pointer items-baseline gap-3 py-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm relative top-0.5"
                checked={taken.includes(problem.id)}
                onChange={(event) =>
                  setTaken(event.target.checked ? [...taken, problem.id] : taken.filter((each) => each !== problem.id))
                }
              />
              <span>
                <span className="font-serif text-[1.1rem]">{problem.title || "Untitled problem"}</span>
                <span className="block text-[0.9rem] text-muted">
                  {problem.procedure_title}
                  {problem.demo ? " · of the demo" : ""}
                </span>
              </span>
            </label>
          </li>
        ))}
        {problems !== undefined && seen.length === 0 && <li className="py-3 text-muted">No problem is called so.</li>}
      </ul>
      <button type="button" className="btn btn-primary btn-sm mt-4" disabled={taken.length === 0} onClick={add}>
        {taken.length === 0 ? "Choose some" : `Add ${counted(taken.length, "problem")}`}
      </button>
    </Dialog>
  );
}
