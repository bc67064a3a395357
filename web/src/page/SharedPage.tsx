import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, Printer } from "lucide-react";
import { lazy, type ReactNode, Suspense, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { request } from "../api/client";
import { meQuery, pathOf, sharedProblemQuery, sharedQuery } from "../api/queries";
import type { CopiedThing, Problem, SharedThing } from "../api/types";
import { Fetched } from "../app/Fetched";
import { useMe } from "../app/me";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { useShortcuts } from "../lib/keys";
import { paperOfProblem, printPaper, usePaper } from "../lib/paper";
import { beginGuest } from "../who/useEnter";
import { ModeSwitch, useMode } from "./ModeSwitch";
import { Solved } from "./Solved";

const PaperDialog = lazy(() => import("./PaperDialog").then((module) => ({ default: module.PaperDialog })));
const SharedSet = lazy(() => import("../data/SharedSet").then((module) => ({ default: module.SharedSet })));

/** SharedPage shows what a link leads to: whoever has it reads it, works it, and takes a copy of it. */
export function SharedPage() {
  const { token = "" } = useParams();
  return (
    <Fetched title="Shared" what="shared page" fetched={useQuery(sharedQuery(token))}>
      {(thing) =>
        thing.kind === "problem" ? (
          <SharedProblem key={token} token={token} thing={thing} />
        ) : (
          <Suspense fallback={<Shell title="Data" />}>
            <SharedSet key={token} token={token} bar={<Bar token={token} thing={thing} />} />
          </Suspense>
        )
      }
    </Fetched>
  );
}

function SharedProblem({ token, thing }: { token: string; thing: SharedThing }) {
  return (
    <Fetched title="Problem" what="problem" fetched={useQuery(sharedProblemQuery(token))}>
      {(problem) => <Loaded problem={problem} bar={<Bar token={token} thing={thing} />} />}
    </Fetched>
  );
}

function Loaded({ problem, bar }: { problem: Problem; bar: ReactNode }) {
  const [mode, setMode] = useMode();
  const [onPaper, setOnPaper] = useState(false);
  const [paper] = usePaper();
  const canPrint = problem.mistakes.length === 0 && mode !== "try"; // where the solution is still to be found
  useShortcuts(
    canPrint
      ? [{ key: "Ctrl+p", says: "Print the working", act: () => printPaper(paperOfProblem(pathOf(problem), paper)) }]
      : [],
  );
  const tools = (
    <div className="flex items-center gap-2 max-sm:gap-1">
      <ModeSwitch mode={mode} onMode={setMode} />
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
        href={`${pathOf(problem)}/file`}
        download
        className="btn btn-ghost btn-sm btn-square max-sm:hidden"
        aria-label="Save as a problem file"
        title="Save as a problem file"
      >
        <Download size="1.15em" aria-hidden="true" />
      </a>
    </div>
  );
  return (
    <Shell title={problem.draft?.title || "Untitled problem"} tools={tools}>
      {bar}
      {onPaper && (
        <Suspense>
          <PaperDialog problem={problem} onClose={() => setOnPaper(false)} />
        </Suspense>
      )}
      <Solved problem={problem} mode={mode} onRead={() => setMode("read")} />
    </Shell>
  );
}

/** Bar says what the page is, and keeps a copy of it. */
function Bar({ token, thing: { kind, own } }: { token: string; thing: SharedThing }) {
  const me = useMe();
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const copy = useMutation({
    mutationFn: async () => {
      // Who is nobody yet becomes a guest, to whom the copy belongs.
      if (!me.person) client.setQueryData(meQuery.queryKey, await beginGuest());
      return request<CopiedThing>("POST", `/api/shared/${token}/copy`);
    },
    onSuccess: ({ id }) => {
      client.invalidateQueries({ queryKey: ["problems"] });
      client.invalidateQueries({ queryKey: ["data-sets"] });
      navigate(kind === "problem" ? `/problems/${id}` : `/data/${id}`);
      toast({ says: "This copy is yours. What it was copied from stays as it is." });
    },
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  return (
    <p className="screen-only flex flex-wrap items-center gap-x-4 gap-y-1 border-base-300 border-b bg-base-200 px-[1.5rem] py-1.5 text-[0.95rem] max-sm:px-3">
      {own ? (
        <>
          <span className="text-muted">This is what whoever has your link sees.</span>
          <Link to={kind === "problem" ? `/problems/${own}` : `/data/${own}`} className="act">
            To your own
          </Link>
        </>
      ) : (
        <>
          <span className="text-muted">
            {kind === "problem"
              ? "Shared with you by a link. Try what you like: nothing you change or answer here changes it."
              : "Shared with you by a link, to read and to copy."}
          </span>
          {me.person || me.guests ? (
            <button
              type="button"
              className="btn btn-primary btn-sm ml-auto"
              disabled={copy.isPending}
              onClick={() => copy.mutate()}
            >
              Copy to mine
            </button>
          ) : (
            <Link to={`/sign-in?to=/shared/${token}`} className="act ml-auto">
              Sign in to take a copy
            </Link>
          )}
        </>
      )}
    </p>
  );
}
