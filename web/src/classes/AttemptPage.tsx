import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { request } from "../api/client";
import type { Item, RemarkRequest, RemarkView, SetProblem, SetSheet } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { readNumber } from "../lib/number";
import { verdictWords } from "../try/marks";
import { Try } from "../try/Try";
import { setWire } from "../try/wires";
import { marksQuery, setProblemQuery } from "./queries";
import { SolutionOf } from "./SetTryPage";
import { when } from "./when";

/** AttemptPage is a student's attempt as an instructor opens it: as the student sees it, with what they did and when. */
export function AttemptPage() {
  const { id = "", problem = "", person = "" } = useParams();
  return (
    <Fetched title="Attempt" what="attempt" fetched={useQuery(setProblemQuery(problem, person))}>
      {(of) => <Loaded key={`${of.id} ${person}`} of={of} set={id} person={person} />}
    </Fetched>
  );
}

function Loaded({ of, set, person }: { of: SetProblem; set: string; person: string }) {
  const [params, setParams] = useSearchParams();
  const reads = params.get("mode") === "read";
  const [history, setHistory] = useState(false);
  const { data: marks } = useQuery(marksQuery(set));
  const row = marks?.rows.find((each) => each.student.id === person);
  const at = marks?.problems.findIndex((each) => each.id === of.id) ?? -1;
  const made = row?.problems[at];
  const wire = useMemo(() => setWire(of.id, person), [of.id, person]);
  const problem = useMemo(() => ({ id: of.id, shared: true, draft: of.draft }), [of]);
  const aside = useCallback(
    (item: Item) =>
      made?.attempt ? (
        <Remark
          key={item.id}
          attempt={made.attempt}
          item={item}
          remark={of.remarks.find((each) => each.ask === item.id)}
          mark={made.asks.find((each) => each.ask === item.id)}
          keys={[setProblemQuery(of.id, person).queryKey, marksQuery(set).queryKey]}
        />
      ) : null,
    [made, of, person, set],
  );
  return (
    <Shell
      title={row ? `${row.student.name}: ${of.draft?.title ?? ""}` : (of.draft?.title ?? "")}
      tools={
        <span className="flex items-center gap-4">
          <button type="button" className="act" onClick={() => setHistory(true)}>
            Answer by answer
          </button>
          <button type="button" className="act" onClick={() => setParams(reads ? {} : { mode: "read" })}>
            {reads ? "Their work" : "The solution"}
          </button>
          <Link to={`/sets/${set}/class`} className="act max-sm:hidden">
            The class
          </Link>
        </span>
      }
    >
      <p className="screen-only flex flex-wrap gap-x-5 border-base-300 border-b bg-base-200 px-[1.5rem] py-1.5 text-[0.95rem] max-sm:px-3">
        <span className="font-semibold">{row?.student.name ?? "A student"}</span>
        {made && (
          <span className="text-muted">
            {Math.round(made.points * 100) / 100} of {made.of} points
          </span>
        )}
        <span className="text-muted">
          {row?.student.handed_in ? `handed in ${when(row.student.handed_in)}` : "not handed in"}
        </span>
      </p>
      {reads ? <SolutionOf of={of} person={person} /> : <Try problem={problem} wire={wire} fixed aside={aside} />}
      {history && <History of={of} person={person} onClose={() => setHistory(false)} />}
    </Shell>
  );
}

interface RemarkProps {
  attempt: string;
  item: Item;
  remark: RemarkView | undefined;
  mark: { points: number; of: number; by_hand?: boolean } | undefined;
  keys: readonly (readonly string[])[];
}

/** Remark is what the instructor says at an ask: a word for the student, and points set by hand. Both are logged. */
function Remark({ attempt, item, remark, mark, keys }: RemarkProps) {
  const client = useQueryClient();
  const toast = useToast();
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState(remark?.words ?? "");
  const [points, setPoints] = useState(mark?.by_hand ? String(mark.points) : "");
  const save = useMutation({
    mutationFn: (body: RemarkRequest) => request("PUT", `/api/attempts/${attempt}/remarks`, body),
    onSuccess: () => {
      for (const queryKey of keys) client.invalidateQueries({ queryKey: [...queryKey] });
      setOpen(false);
    },
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  const given = points.trim() === "" ? undefined : readNumber(points);
  const odd = given !== undefined && !(given >= 0 && given <= 1000);
  return (
    <div className="text-[0.95rem]" data-remark={item.id}>
      {remark?.words && !open && <p className="border-primary border-l-2 pl-3">{remark.words}</p>}
      {!open && (
        <p className="flex flex-wrap gap-x-4 text-muted">
          {mark && (
            <span>
              {Math.round(mark.points * 100) / 100} of {mark.of}
              {mark.by_hand ? ", set by hand" : ""}
            </span>
          )}
          <button type="button" className="act" aria-label={`A word at ${item.label}`} onClick={() => setOpen(true)}>
            {remark?.words ? "Change the word" : "A word"}
          </button>
        </p>
      )}
      {open && (
        <form
          className="grid max-w-md gap-2 rounded-box border border-base-300 bg-base-200 p-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (!odd) save.mutate({ ask: item.id, words: words.trim() || undefined, points: given });
          }}
        >
          <label className="grid gap-1">
            <span className="text-muted">A word for the student</span>
            <textarea
              className="textarea w-full bg-sheet"
              rows={2}
              maxLength={1500}
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          </label>
          <div className="flex items-center gap-2">
            <label className="flex items-center gap-2">
              <span className="text-muted">Points by hand</span>
              <input
                className="input input-sm w-20 bg-sheet text-right"
                inputMode="decimal"
                aria-invalid={odd || undefined}
                placeholder={mark ? String(Math.round(mark.points * 100) / 100) : ""}
                value={points}
                onChange={(event) => setPoints(event.target.value)}
              />
            </label>
            <span className="text-muted">{mark ? `of ${mark.of}` : ""}</span>
          </div>
          {odd && (
            <p role="alert" className="text-(--region-text)">
              Give a number from 0 to 1000, or nothing.
            </p>
          )}
          <span className="flex gap-3">
            <button type="submit" className="btn btn-primary btn-sm" disabled={save.isPending || odd}>
              Keep it
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setOpen(false)}>
              Leave it
            </button>
          </span>
        </form>
      )}
    </div>
  );
}

const deeds: Record<string, string> = { answer: "answered", help: "took help", undo: "took the last answer back" };

/** History is what a student did in an attempt, one after the other, with the times. */
function History({ of, person, onClose }: { of: SetProblem; person: string; onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ["set-history", of.id, person],
    queryFn: () => request<SetSheet>("GET", `/api/set-problems/${of.id}/try?person=${person}`),
    staleTime: 0,
  });
  const items = new Map(data?.items.map((item) => [item.id, item]));
  /** What was answered, in the words of the choice where it was one. */
  const answered = (ask: string | undefined, text: string) => {
    const choice = items.get(ask ?? "")?.choices?.find((each) => each.value === text);
    return choice ? choice.words : text;
  };
  return (
    <Dialog title="Answer by answer" onClose={onClose} wide>
      {error && (
        <p role="alert" className="text-(--region-text)">
          {error.message}
        </p>
      )}
      {data && (data.done ?? []).length === 0 && <p className="text-muted">Nothing was answered yet.</p>}
      <ol className="grid" aria-label="What was done">
        {(data?.done ?? []).map((done) => (
          <li
            key={done.at}
            className="grid grid-cols-[9rem_1fr] gap-x-4 border-base-300 border-b py-1.5 max-sm:grid-cols-1"
          >
            <span className="text-muted">{when(done.at)}</span>
            <span>
              {done.ask && <span className="text-muted">{items.get(done.ask)?.label ?? done.ask}: </span>}
              {done.kind === "answer" ? (
                <span className="font-semibold">{answered(done.ask, done.text ?? "")}</span>
              ) : (
                deeds[done.kind]
              )}
              {done.verdict && (
                <span className="text-muted">
                  {" "}
                  · {done.slip ? `slip: ${done.slip.replaceAll("_", " ")}` : verdictWords(done.verdict)}
                </span>
              )}
            </span>
          </li>
        ))}
      </ol>
    </Dialog>
  );
}
