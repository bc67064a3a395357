import { useQuery } from "@tanstack/react-query";
import { Download, Printer } from "lucide-react";
import { Link } from "react-router";
import { problemsQuery } from "../api/queries";
import type { LabReport } from "../api/types";
import { PaperHead } from "../app/PaperHead";
import { SavedState, UndoRedo } from "../app/SavedState";
import type { Keeping, Kept } from "../lib/keeping";
import { paperOfReport, usePaper } from "../lib/paper";
import { useRemembered } from "../lib/remembered";
import type { Written } from "./report";

interface Props {
  report: LabReport;
  kept: Kept<Written, LabReport> & { keeping: Keeping<Written, LabReport> };
  onPrint: () => void;
}

const formats = [
  { format: "html", label: "HTML" },
  { format: "odt", label: "OpenDocument" },
  { format: "md", label: "Markdown" },
] as const;

/** Side has what is done with a report: undo, paper, and the problems from which more is kept. */
export function Side({ report, kept, onPrint }: Props) {
  const [paper, setPaper] = usePaper();
  return (
    <aside aria-label="About the report" className="content-start lg:sticky lg:top-[4.4rem] lg:self-start">
      <UndoRedo kept={kept} />
      <SavedState kept={kept} what="report" />
      <h2 className="mt-6 font-semibold">Hand it in</h2>
      <PaperHead paper={paper} onSet={(part) => setPaper({ ...paper, ...part })} />
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn btn-primary btn-sm" onClick={onPrint}>
          <Printer size="1.1em" aria-hidden="true" />
          Print
        </button>
        {formats.map(({ format, label }) => (
          <a
            key={format}
            className={`btn btn-outline btn-sm border-base-300 ${kept.saving === "kept" ? "" : "btn-disabled"}`}
            href={paperOfReport(report.id, paper, format)}
            download
          >
            <Download size="1.1em" aria-hidden="true" />
            {label}
          </a>
        ))}
      </div>
      <From report={report} />
    </aside>
  );
}

/** From lists the problems that something is kept of, and opens others to keep more. */
function From({ report }: { report: LabReport }) {
  const { data: problems } = useQuery(problemsQuery);
  const [, setInto] = useRemembered("report-into", "");
  const keepHere = (problem: string) => setInto(report.of === problem ? "" : report.id);
  const others = (problems ?? []).filter((problem) => report.problems.every((each) => each.id !== problem.id));
  return (
    <>
      {report.problems.length > 0 && (
        <>
          <h2 className="mt-6 font-semibold">Kept from</h2>
          <ul className="mt-1 grid gap-2">
            {report.problems.map((problem) => (
              <li key={problem.id}>
                <Link className="act" to={`/problems/${problem.id}`} onClick={() => keepHere(problem.id)}>
                  {problem.title}
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      {report.problems.length > 0 && others.length > 0 && (
        <details className="mt-4">
          <summary className="act inline cursor-pointer">Keep something of another problem</summary>
          <ul className="mt-2 grid max-h-60 gap-2 overflow-y-auto">
            {others.map((problem) => (
              <li key={problem.id}>
                <Link
                  className="hover:text-primary"
                  to={`/problems/${problem.id}`}
                  onClick={() => keepHere(problem.id)}
                >
                  {problem.title || "Untitled problem"}
                </Link>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
