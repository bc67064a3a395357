import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, MessageSquareText } from "lucide-react";
import { Link, useParams } from "react-router";
import { request } from "../api/client";
import type { WorkItem, WorkView } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { Written } from "../blocks/Written";
import { counted } from "../lib/words";
import { points } from "./points";
import { workOfSetQuery } from "./queries";
import { dueIn, when } from "./when";

/** WorkPage is a set as the student works it: its problems, how far one has come, and handing in. */
export function WorkPage() {
  const { id = "" } = useParams();
  return (
    <Fetched title="Set" what="set" fetched={useQuery(workOfSetQuery(id))}>
      {(work) => <Loaded key={work.id} work={work} />}
    </Fetched>
  );
}

/** isDone tells whether every ask of a problem was answered or given up. */
const isDone = ({ answered, of }: WorkItem) => of > 0 && answered === of;

function Loaded({ work }: { work: WorkView }) {
  const client = useQueryClient();
  const toast = useToast();
  const hand = useMutation({
    mutationFn: (method: "POST" | "DELETE") => request<void>(method, `/api/sets/${work.id}/hand-in`),
    onSuccess: (_, method) => {
      if (method === "POST")
        toast({
          says: work.late ? "It is handed in, late." : "It is handed in.",
          action: work.late ? undefined : { label: "Take it back", act: () => hand.mutate("DELETE") },
        });
    },
    onError: (error) => toast({ says: error.message, bad: true }),
    onSettled: () => client.invalidateQueries({ queryKey: workOfSetQuery(work.id).queryKey }),
  });
  const open = work.problems.filter((problem) => !isDone(problem)).length;
  return (
    <Shell title={work.title || "Untitled set"}>
      {work.preview && (
        <p className="screen-only flex flex-wrap gap-x-4 border-base-300 border-b bg-base-200 px-[1.5rem] py-1.5 text-[0.95rem] max-sm:px-3">
          <span className="text-muted">This is how your students see it. Answers are theirs to give.</span>
          <Link to={`/sets/${work.id}/edit`} className="act">
            Back to the set
          </Link>
        </p>
      )}
      <div className="mx-auto w-full max-w-3xl flex-1 px-8 py-9 max-sm:px-4 max-sm:py-6">
        <p className="text-muted">{work.class_name}</p>
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">{work.title || "Untitled set"}</h1>
        <p className="mt-1.5 text-[1.1rem]">
          {work.due ? (
            <span className={work.late && !work.handed_in ? "text-(--region-text)" : ""}>
              {dueIn(work.due)}
              {work.late && !work.handed_in ? ": what you hand in now is late" : ""}
            </span>
          ) : (
            <span className="text-muted">not due</span>
          )}
        </p>
        {work.about && (
          <div className="mt-4 font-serif text-[1.1rem]">
            <Written text={work.about} />
          </div>
        )}
        <ol className="mt-6 border-base-300 border-t" aria-label="Problems">
          {work.problems.map((problem, i) => (
            <Problem key={problem.id} work={work} problem={problem} place={i + 1} />
          ))}
        </ol>
        {work.problems.length === 0 && <p className="mt-4 text-muted">Nothing is in it yet.</p>}
        {!work.preview && work.problems.length > 0 && (
          <div className="mt-7 flex flex-wrap items-center gap-x-5 gap-y-2">
            {work.handed_in ? (
              <>
                <p className="flex items-center gap-2 font-semibold text-primary" data-testid="handed-in">
                  <Check size="1.2em" aria-hidden="true" />
                  Handed in {when(work.handed_in)}
                </p>
                {work.may_take_back && (
                  <button type="button" className="act" onClick={() => hand.mutate("DELETE")}>
                    Take it back
                  </button>
                )}
              </>
            ) : (
              <>
                <button
                  type="button"
                  className="btn btn-primary"
                  disabled={hand.isPending}
                  onClick={() => hand.mutate("POST")}
                >
                  Hand in
                </button>
                <span className="text-muted">
                  {open > 0 ? `${counted(open, "problem")} not finished yet. ` : ""}
                  {work.late || !work.due ? "" : "You may take it back until it is due."}
                </span>
              </>
            )}
          </div>
        )}
      </div>
    </Shell>
  );
}

function Problem({ work, problem, place }: { work: WorkView; problem: WorkItem; place: number }) {
  const at = `/sets/${work.id}/problems/${problem.id}`;
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-base-300 border-b py-3.5">
      <span className="w-5 text-muted tabular-nums">{place}</span>
      <Link to={at} className="min-w-40 flex-1 font-semibold font-serif text-[1.25rem] hover:text-primary">
        {problem.title}
      </Link>
      <span className="flex items-center gap-4 text-[0.95rem]">
        {problem.remarks > 0 && (
          <span className="flex items-center gap-1.5 text-primary">
            <MessageSquareText size="1.1em" aria-hidden="true" />
            {counted(problem.remarks, "word")} from your instructor
          </span>
        )}
        {problem.points_of > 0 && (
          <span>
            <span className="font-semibold">{points(problem.points)}</span> of {points(problem.points_of)} points
          </span>
        )}
        {work.solution && (
          <Link to={`${at}?mode=read`} className="act">
            Solution
          </Link>
        )}
        {problem.of === 0 ? (
          <span className="text-muted">not begun</span>
        ) : (
          <span className="flex items-center gap-2">
            <progress
              className="progress progress-primary w-24 max-sm:w-16"
              value={problem.answered}
              max={problem.of}
              aria-label={`How far you have come with ${problem.title}`}
            />
            {isDone(problem) ? "done" : `${problem.answered} of ${problem.of}`}
          </span>
        )}
      </span>
    </li>
  );
}
