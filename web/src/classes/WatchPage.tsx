import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Standings } from "../api/types";
import { Message } from "../app/Message";
import { Shell } from "../app/Shell";
import { counted } from "../lib/words";
import { Marks } from "./Marks";
import { Matrix } from "./Matrix";
import { setQuery } from "./queries";
import { useWatching } from "./useWatching";
import { begunBy, type Slip, slipsOf } from "./watching";
import { ago, dueIn } from "./when";

const views = [
  { view: "", label: "Where they are" },
  { view: "slips", label: "What goes wrong" },
  { view: "marks", label: "Marks" },
] as const;

/** WatchPage is where an instructor sees where a class stands with a set: where they are stuck, what goes wrong, who needs somebody. */
export function WatchPage() {
  const { id = "" } = useParams();
  const { standings, trouble } = useWatching(id);
  const { data: set } = useQuery(setQuery(id));
  const [params, setParams] = useSearchParams();
  const view = params.get("view") ?? "";
  const title = standings?.set.settings.title ?? set?.settings.title ?? "";
  if (!standings)
    return (
      <Shell title={title || "Set"}>
        {trouble ? (
          <Message title="The class cannot be shown." says={trouble} />
        ) : (
          <p className="p-8 text-muted" role="status" data-fetching>
            Fetching where the class stands …
          </p>
        )}
      </Shell>
    );
  const { settings } = standings.set;
  const handedIn = standings.students.filter((each) => each.handed_in).length;
  const choose = (next: string) => {
    const to = new URLSearchParams(params);
    if (next) to.set("view", next);
    else to.delete("view");
    setParams(to, { replace: true });
  };
  return (
    <Shell title={title || "Untitled set"}>
      {trouble && (
        <p role="alert" className="border-region border-b bg-base-200 px-6 py-2">
          {trouble} What is shown may be out of date.
        </p>
      )}
      <div className="mx-auto grid w-full max-w-[90rem] flex-1 grid-cols-[minmax(0,1fr)] content-start gap-y-5 px-6 py-6 max-sm:px-3">
        <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
          <div className="min-w-60 flex-1">
            <p className="text-muted">
              <Link to={`/classes/${standings.set.class}`} className="inline-block min-h-[24px] py-0.5 hover:text-ink">
                {standings.set.class_name}
              </Link>
            </p>
            <h1 className="font-semibold font-serif text-[1.8rem] leading-tight">{title || "Untitled set"}</h1>
            <p className="text-muted">
              {settings.due ? dueIn(settings.due) : "not due"} · {handedIn} of {standings.students.length} handed in ·{" "}
              <Link to={`/sets/${id}/edit`} className="act">
                Edit the set
              </Link>
            </p>
          </div>
          {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
          <div role="group" aria-label="What to see" className="flex rounded-selector bg-base-200 p-0.5">
            {views.map((each) => (
              <button
                key={each.view}
                type="button"
                aria-pressed={view === each.view}
                className={`cursor-pointer rounded-[0.5rem] px-3 py-1 max-sm:px-2 ${view === each.view ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
                onClick={() => choose(each.view)}
              >
                {each.label}
              </button>
            ))}
          </div>
        </div>
        {standings.students.length === 0 ? (
          <p className="max-w-xl text-muted">
            Nobody is in this class yet. Students join it with the code that stands on{" "}
            <Link to={`/classes/${standings.set.class}`} className="act">
              its page
            </Link>
            .
          </p>
        ) : view === "marks" ? (
          <Marks set={id} at={standings.at} />
        ) : view === "slips" ? (
          <WhatGoesWrong standings={standings} />
        ) : (
          <WhereTheyAre standings={standings} />
        )}
      </div>
    </Shell>
  );
}

/** useChosenProblem is the problem that is looked at, as the address has it: the first one where it has none. */
function useChosenProblem({ problems }: Standings) {
  const [params, setParams] = useSearchParams();
  const chosen = problems.find((each) => each.id === params.get("problem")) ?? problems[0];
  const choose = (id: string) => {
    const to = new URLSearchParams(params);
    to.set("problem", id);
    setParams(to, { replace: true });
  };
  return { chosen, choose };
}

function WhereTheyAre({ standings }: { standings: Standings }) {
  const { chosen, choose } = useChosenProblem(standings);
  if (!chosen) return <p className="text-muted">Nothing is in this set yet.</p>;
  return (
    <div className="grid gap-x-9 gap-y-6 xl:grid-cols-[minmax(0,1fr)_19rem]">
      <div className="min-w-0">
        {standings.problems.length > 1 && (
          <label className="mb-3 flex flex-wrap items-center gap-2">
            <span className="text-muted">Problem</span>
            <select
              className="select select-sm w-auto max-w-full bg-sheet"
              value={chosen.id}
              onChange={(event) => choose(event.target.value)}
            >
              {standings.problems.map((problem, i) => (
                <option key={problem.id} value={problem.id}>
                  {i + 1}. {problem.title}
                </option>
              ))}
            </select>
          </label>
        )}
        <Matrix key={chosen.id} standings={standings} problem={chosen} />
      </div>
      <WhoNeedsMe standings={standings} />
    </div>
  );
}

/** WhoNeedsMe names who has come no step further for a while, and who makes the same slip again and again. */
function WhoNeedsMe({ standings }: { standings: Standings }) {
  const names = new Map(standings.students.map((each) => [each.id, each.name]));
  const waiting = standings.attempts.filter((attempt) => attempt.needs && names.has(attempt.student));
  const titles = new Map(standings.problems.map((each) => [each.id, each]));
  return (
    <section aria-label="Who needs me" className="content-start">
      <h2 className="border-base-300 border-b pb-1.5 font-semibold">Who needs me</h2>
      {waiting.length === 0 && <p className="mt-2 text-muted">Nobody, as far as can be seen from here.</p>}
      <ul className="mt-1">
        {waiting.map((attempt) => {
          const again = attempt.standing.slips.find((slip) => slip.times >= 3);
          const label = titles.get(attempt.problem)?.asks.find((ask) => ask.id === again?.ask)?.label;
          return (
            <li key={attempt.id} className="border-base-300 border-b py-2">
              <Link
                to={`/sets/${standings.set.id}/attempts/${attempt.problem}/${attempt.student}`}
                className="font-semibold hover:text-primary"
              >
                {names.get(attempt.student)}
              </Link>
              <p className="text-[0.95rem]">
                {attempt.needs === "same_slip" && again
                  ? `the same slip ${again.times} times: ${label ?? again.ask}`
                  : `no step since ${ago(attempt.updated_at)}`}
              </p>
              <p className="text-[0.9rem] text-muted">{titles.get(attempt.problem)?.title}</p>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** WhatGoesWrong lists the slips that were made, and behind each its students. */
function WhatGoesWrong({ standings }: { standings: Standings }) {
  const { chosen, choose } = useChosenProblem(standings);
  const slips = useMemo(() => slipsOf(standings), [standings]);
  const here = slips.filter((slip) => slip.problem === chosen?.id);
  const of = chosen ? begunBy(standings, chosen.id) : 0;
  return (
    <div>
      {standings.problems.length > 1 && (
        <label className="mb-3 flex flex-wrap items-center gap-2">
          <span className="text-muted">Problem</span>
          <select
            className="select select-sm w-auto max-w-full bg-sheet"
            value={chosen?.id}
            onChange={(event) => choose(event.target.value)}
          >
            {standings.problems.map((problem, i) => (
              <option key={problem.id} value={problem.id}>
                {i + 1}. {problem.title}
              </option>
            ))}
          </select>
        </label>
      )}
      {here.length === 0 && (
        <p className="text-muted">
          {of === 0 ? "Nobody has begun this problem yet." : `${counted(of, "student")} at it, and no slip so far.`}
        </p>
      )}
      <ol className="max-w-4xl" aria-label="Slips">
        {here.map((slip) => (
          <SlipRow key={`${slip.ask} ${slip.slip}`} slip={slip} of={of} standings={standings} />
        ))}
      </ol>
    </div>
  );
}

function SlipRow({ slip, of, standings }: { slip: Slip; of: number; standings: Standings }) {
  const [open, setOpen] = useState(false);
  const names = new Map(standings.students.map((each) => [each.id, each.name]));
  const n = slip.students.length;
  return (
    <li className="grid grid-cols-[7.5rem_1fr] gap-x-5 border-base-300 border-b py-3 max-sm:grid-cols-1">
      <div>
        <p className="font-serif text-[1.5rem] leading-tight tabular-nums">
          {n} <span className="text-[1rem] text-muted">of {of}</span>
        </p>
        <span className="mt-1 block h-1.5 rounded bg-base-300" aria-hidden="true">
          <span className="block h-full rounded bg-expected" style={{ width: `${(100 * n) / Math.max(1, of)}%` }} />
        </span>
      </div>
      <div>
        <p className="font-semibold">{slip.label}</p>
        <p>{slip.says}</p>
        <button type="button" className="act mt-0.5 text-[0.92rem]" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : n === 1 ? "Who it is" : "Who they are"}
        </button>
        {open && (
          <ul className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
            {slip.students.map((student) => (
              <li key={student}>
                <Link to={`/sets/${standings.set.id}/attempts/${slip.problem}/${student}`} className="act">
                  {names.get(student) ?? "somebody who has left"}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </li>
  );
}
