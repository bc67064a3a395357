import { useQuery } from "@tanstack/react-query";
import { Download, PenLine, Printer } from "lucide-react";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { problemQuery } from "../api/queries";
import type { Problem } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { KeepsProvider } from "../kept/kept";
import { useKept } from "../kept/useKept";
import { noteOpened } from "../lib/finding";
import { useShortcuts } from "../lib/keys";
import { paperOfProblem, printPaper, usePaper } from "../lib/paper";
import { type Mode, modes } from "../problem/mode";
import { Unfinished } from "../problem/Unfinished";
import { Worked } from "../problem/Worked";

import { KeptMenu } from "./KeptMenu";

const PaperDialog = lazy(() => import("./PaperDialog").then((module) => ({ default: module.PaperDialog })));
const Try = lazy(() => import("../try/Try").then((module) => ({ default: module.Try })));

/** ProblemPage shows a problem and its worked solution. */
export function ProblemPage() {
  const { id = "" } = useParams();
  useEffect(() => noteOpened(id), [id]);
  return (
    <Fetched title="Problem" what="problem" fetched={useQuery(problemQuery(id))}>
      {(problem) => <Loaded key={problem.id} problem={problem} />}
    </Fetched>
  );
}

function Loaded({ problem }: { problem: Problem }) {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const mode = modes.find((each) => each.mode === params.get("mode"))?.mode ?? "read";
  const setMode = (next: Mode) => setParams(next === "read" ? {} : { mode: next }, { replace: true });
  const edit = `/problems/${problem.id}/edit`;
  const [onPaper, setOnPaper] = useState(false);
  const [paper] = usePaper();
  const kept = useKept(problem.id);
  const canPrint = problem.mistakes.length === 0 && mode !== "try"; // where the solution is still to be found
  useShortcuts([
    { key: "r", says: "Read: all steps", act: () => setMode("read") },
    { key: "s", says: "Reveal: step by step", act: () => setMode("reveal") },
    { key: "x", says: "Try: work it yourself", act: () => setMode("try") },
    { key: "e", says: "Edit the problem", act: () => navigate(edit) },
    ...(canPrint
      ? [{ key: "Ctrl+p", says: "Print the working", act: () => printPaper(paperOfProblem(problem.id, paper)) }]
      : []),
  ]);
  const tools = (
    <div className="flex items-center gap-2 max-sm:gap-1">
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div role="group" aria-label="How to see the solution" className="flex rounded-selector bg-base-200 p-0.5">
        {modes.map(({ mode: each, label }) => (
          <button
            key={each}
            type="button"
            aria-pressed={mode === each}
            className={`cursor-pointer rounded-[0.5rem] px-3 py-1 max-sm:px-1.5 max-sm:text-[0.88rem] ${mode === each ? "bg-raised font-semibold shadow-sm" : "text-muted hover:text-ink"}`}
            onClick={() => setMode(each)}
          >
            {label}
          </button>
        ))}
      </div>
      {canPrint && <KeptMenu problem={problem.id} kept={kept} />}
      {canPrint && (
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square max-sm:hidden"
          aria-label="Print, or save to hand in"
          title="Print, or save to hand in (Ctrl+P)"
          onClick={() => setOnPaper(true)}
        >
          <Printer size="1.15em" aria-hidden="true" />
        </button>
      )}
      <a
        href={`/api/problems/${problem.id}/file`}
        download
        className="btn btn-ghost btn-sm btn-square max-sm:hidden"
        aria-label="Save as a problem file"
        title="Save as a problem file"
      >
        <Download size="1.15em" aria-hidden="true" />
      </a>
      <Link to={edit} className="btn btn-ghost btn-sm btn-square" aria-label="Edit the problem" title="Edit (e)">
        <PenLine size="1.15em" aria-hidden="true" />
      </Link>
    </div>
  );
  const title = problem.draft?.title || "Untitled problem";
  return (
    <KeepsProvider value={canPrint ? kept : null}>
      <Shell title={title} tools={tools}>
        {onPaper && (
          <Suspense>
            <PaperDialog problem={problem} onClose={() => setOnPaper(false)} />
          </Suspense>
        )}
        {problem.mistakes.length > 0 ? (
          <Unfinished problem={problem} />
        ) : mode === "try" ? (
          <Suspense fallback={<p className="p-8 text-muted">Fetching Try …</p>}>
            <Try problem={problem} onRead={() => setMode("read")} />
          </Suspense>
        ) : (
          <Worked problem={problem} mode={mode} />
        )}
      </Shell>
    </KeepsProvider>
  );
}
