import { useQuery } from "@tanstack/react-query";
import { Bookmark } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { problemsQuery, reportQuery } from "../api/queries";
import type { LabReport, LabreportPiece, Part } from "../api/types";
import { Fetched } from "../app/Fetched";
import { Shell } from "../app/Shell";
import { moved, Sortable } from "../app/Sortable";
import { useToast } from "../app/toasts";
import { useShortcuts } from "../lib/keys";
import { paperOfReport, printPaper, usePaper } from "../lib/paper";
import { useRemembered } from "../lib/remembered";
import { Opened, type OpenedAt } from "../problem/Opened";
import { ActionsProvider } from "../solution/actions";
import { Paragraph } from "./Paragraph";
import { PartRow } from "./PartRow";
import { OfProblem, PieceView } from "./Piece";
import { rewritten, seen, without, withParagraph } from "./report";
import { Side } from "./Side";
import { useReport } from "./useReport";

/** ReportPage is a report that is put together: what is kept, as it is now, and the person's words between. */
export function ReportPage() {
  const { id = "" } = useParams();
  return (
    <Fetched title="Report" what="report" fetched={useQuery(reportQuery(id))}>
      {(report) => <Loaded key={report.id} report={report} />}
    </Fetched>
  );
}

/** newID names a part. */
const newID = () => `p${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}`;

function Loaded({ report }: { report: LabReport }) {
  const kept = useReport(report);
  const { state, base, keeping } = kept;
  const [paper] = usePaper();
  const [begun, setBegun] = useState("");
  const toast = useToast();
  const pieces = useMemo(() => new Map(base.pieces.map((piece) => [piece.id, piece])), [base]);
  const change = (says: string, parts: (parts: readonly Part[]) => readonly Part[]) =>
    keeping.change(says, (written) => ({ ...written, parts: parts(written.parts) }));
  const write = (at: number) => {
    const id = newID();
    change("a paragraph begun", (parts) => withParagraph(parts, at, id));
    setBegun(id);
  };
  const remove = (part: Part) => {
    change("taking a part out", (parts) => without(parts, part.id));
    toast({ says: "The part is out of the report.", action: { label: "Undo", act: keeping.undo } });
  };
  const move = (id: string, over: string) => change("the order", (parts) => moved(parts, id, over));
  const print = async () => {
    if (await keeping.flush()) printPaper(paperOfReport(report.id, paper));
  };
  useShortcuts([
    { key: "Ctrl+z", says: kept.canUndo ? `Undo: ${kept.canUndo}` : "Undo the last change", act: keeping.undo },
    { key: "Ctrl+y", says: "Redo", act: keeping.redo },
    { key: "w", says: "Write a paragraph at the end", act: () => write(state.parts.length) },
    { key: "Ctrl+p", says: "Print the report", act: print },
  ]);
  return (
    <Shell title={state.title || "Report"}>
      <div className="flex-1 bg-base-200">
        <div className="mx-auto grid w-full max-w-6xl content-start gap-x-10 gap-y-6 px-6 py-6 max-sm:px-3 lg:grid-cols-[minmax(0,1fr)_19rem]">
          <article className="min-w-0 rounded-box border border-base-300 bg-base-100 px-7 py-6 max-sm:px-2">
            <input
              className="w-full rounded-field bg-transparent px-1 font-semibold font-serif text-[1.9rem] leading-tight placeholder:text-muted max-sm:text-[1.5rem]"
              aria-label="Title of the report"
              placeholder="Title of the report"
              maxLength={500}
              value={state.title}
              onChange={(event) =>
                keeping.change("the title", (written) => ({ ...written, title: event.target.value }))
              }
            />
            {state.parts.length === 0 && <Nothing report={report} />}
            <Sortable ids={state.parts.map((part) => part.id)} thing="part" onMove={move}>
              <ol className="mt-3" aria-label="The parts of the report">
                {state.parts.map((part, i) => (
                  <PartRow
                    key={part.id}
                    id={part.id}
                    name={`part ${i + 1}`}
                    onWriteBelow={() => write(i + 1)}
                    onRemove={() => remove(part)}
                  >
                    <PartView
                      report={base}
                      part={part}
                      piece={pieces.get(part.id)}
                      begins={begun === part.id}
                      onWrite={(next) =>
                        change(`the words of part ${i + 1}`, (parts) => rewritten(parts, part.id, next))
                      }
                      onEmpty={() => change("an empty paragraph", (parts) => without(parts, part.id))}
                      onSeen={(now) => change("what was seen", (parts) => seen(parts, part.id, now))}
                    />
                  </PartRow>
                ))}
              </ol>
            </Sortable>
            <button type="button" className="act mt-3 ml-8" onClick={() => write(state.parts.length)}>
              Write a paragraph
            </button>
          </article>
          <Side report={base} kept={kept} onPrint={print} />
        </div>
      </div>
    </Shell>
  );
}

interface PartProps {
  report: LabReport;
  part: Part;
  piece: LabreportPiece | undefined;
  begins: boolean;
  onWrite: (change: Partial<Part>) => void;
  onEmpty: () => void;
  onSeen: (now: string) => void;
}

/** PartView is a part as it reads now, and what has changed in it since it was kept. */
function PartView({ report, part, piece, begins, onWrite, onEmpty, onSeen }: PartProps) {
  const problem = report.problems.find((each) => each.id === part.problem);
  // What was written since is there without its numbers, until it is kept.
  const before = report.parts.find((each) => each.id === part.id);
  const asKept = before?.text === part.text && before?.problem === part.problem;
  const changed = piece?.changed && part.was !== undefined && part.was !== piece.now ? piece.changed : "";
  return (
    <>
      {part.at === undefined ? (
        <Paragraph
          report={report.id}
          part={part}
          text={(asKept ? piece?.text : part.text) ?? ""}
          problems={report.problems}
          begins={begins}
          onWrite={onWrite}
          onLeave={(empty) => empty && onEmpty()}
        />
      ) : piece?.gone ? (
        <p className="border-region border-l-2 pl-3 text-(--region-text)">{piece.gone}</p>
      ) : (
        piece && problem && <Kept report={report.id} problem={problem} piece={piece} />
      )}
      {changed && piece?.now && (
        <p className="mt-1.5 flex flex-wrap items-baseline gap-x-4 border-expected border-l-2 pl-3 text-(--expected-text) text-[0.92rem]">
          <span>{changed}</span>
          <button type="button" className="act" onClick={() => onSeen(piece.now ?? "")}>
            I have seen it
          </button>
        </p>
      )}
    </>
  );
}

/** Kept is what is kept of a problem; its numbers open. */
function Kept({
  report,
  problem,
  piece,
}: {
  report: string;
  problem: LabReport["problems"][number];
  piece: LabreportPiece;
}) {
  const [opened, setOpened] = useState<OpenedAt | null>(null);
  const close = useCallback(() => setOpened(null), []);
  const actions = useRef({
    open: (ref: string, at: Element) => setOpened({ ref, at }),
    change: () => {},
    act: () => {},
  });
  return (
    <OfProblem report={report} problem={problem}>
      <ActionsProvider value={actions.current}>
        <PieceView piece={piece} />
        {opened && <Opened opened={opened} onClose={close} />}
      </ActionsProvider>
    </OfProblem>
  );
}

/** Nothing says how something gets into the report. */
function Nothing({ report }: { report: LabReport }) {
  const { data: problems } = useQuery(problemsQuery);
  const [, setInto] = useRemembered("report-into", "");
  return (
    <div className="mt-4 px-1 text-muted">
      <p>
        Nothing is kept here yet. Open a problem and press{" "}
        <Bookmark size="1.05em" className="inline align-[-0.15em]" aria-label="the bookmark" /> at a number, a table, a
        picture or a sentence: it stands here then, and follows the problem.
      </p>
      <ul className="mt-3 grid gap-x-6 sm:grid-cols-2">
        {problems?.slice(0, 12).map((problem) => (
          <li key={problem.id} className="py-1">
            <Link
              className="hover:text-primary"
              to={`/problems/${problem.id}`}
              onClick={() => setInto(report.of === problem.id ? "" : report.id)}
            >
              {problem.title || "Untitled problem"}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
