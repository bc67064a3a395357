import { useQuery } from "@tanstack/react-query";
import { Download, MessageCircleQuestion, PenLine, Printer } from "lucide-react";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { pathOf, problemQuery } from "../api/queries";
import type { Problem } from "../api/types";
import { Fetched } from "../app/Fetched";
import { useMe } from "../app/me";
import { ShareButton } from "../app/Share";
import { Shell } from "../app/Shell";
import { KeepsProvider } from "../kept/kept";
import { useKept } from "../kept/useKept";
import { noteOpened } from "../lib/finding";
import { useShortcuts } from "../lib/keys";
import { paperOfProblem, printPaper, usePaper } from "../lib/paper";
import { KeptMenu } from "./KeptMenu";
import { ModeSwitch, useMode } from "./ModeSwitch";
import { Solved } from "./Solved";

const AskClass = lazy(() => import("../classes/AskClass").then((module) => ({ default: module.AskClass })));
const PaperDialog = lazy(() => import("./PaperDialog").then((module) => ({ default: module.PaperDialog })));

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
  const [mode, setMode] = useMode();
  const navigate = useNavigate();
  const edit = `/problems/${problem.id}/edit`;
  const [onPaper, setOnPaper] = useState(false);
  const [paper] = usePaper();
  const me = useMe();
  const [asking, setAsking] = useState(false);
  const kept = useKept(problem.id);
  const canPrint = problem.mistakes.length === 0 && mode !== "try"; // where the solution is still to be found
  useShortcuts([
    { key: "e", says: "Edit the problem", act: () => navigate(edit) },
    ...(canPrint
      ? [{ key: "Ctrl+p", says: "Print the working", act: () => printPaper(paperOfProblem(pathOf(problem), paper)) }]
      : []),
  ]);
  const tools = (
    <div className="flex items-center gap-2 max-sm:gap-1">
      <ModeSwitch mode={mode} onMode={setMode} />
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
      {canPrint && me.person?.role !== "guest" && !me.alone && (
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square max-md:hidden"
          aria-label="Ask the class"
          title="Ask the class: they answer on their phones"
          onClick={() => setAsking(true)}
        >
          <MessageCircleQuestion size="1.15em" aria-hidden="true" />
        </button>
      )}
      <ShareButton at={`/api/problems/${problem.id}`} what="problem" />
      <a
        href={`${pathOf(problem)}/file`}
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
        {asking && (
          <Suspense>
            <AskClass problem={problem.id} onClose={() => setAsking(false)} />
          </Suspense>
        )}
        {onPaper && (
          <Suspense>
            <PaperDialog problem={problem} onClose={() => setOnPaper(false)} />
          </Suspense>
        )}
        <Solved problem={problem} mode={mode} onRead={() => setMode("read")} />
      </Shell>
    </KeepsProvider>
  );
}
