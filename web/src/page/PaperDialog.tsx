import { useQuery } from "@tanstack/react-query";
import { Download, Printer } from "lucide-react";
import { workQuery } from "../api/queries";
import type { Problem } from "../api/types";
import { Dialog } from "../app/Dialog";
import { type Paper, printPaper, usePaper } from "./paper";

const whats: { value: Paper["what"]; label: string; says: string }[] = [
  { value: "full", label: "The full working", says: "every step, with its pictures and tables" },
  {
    value: "short",
    label: "A short working",
    says: "hypotheses, statistic, critical value, p, decision, conclusion, the curve",
  },
  { value: "report", label: "The report only", says: "the line for a paper and the sentence that answers the problem" },
];

/** PaperDialog says what goes onto paper, prints it, or saves it as a file. */
export function PaperDialog({ problem, onClose }: { problem: Problem; onClose: () => void }) {
  const { paper, setPaper, url } = usePaper(problem.id);
  const { data } = useQuery(workQuery(problem, [], 0));
  const set = (part: Partial<Paper>) => setPaper({ ...paper, ...part });
  return (
    <Dialog title="On paper" onClose={onClose}>
      <fieldset>
        <legend className="sr-only">What goes in</legend>
        {whats.map((each) => (
          <label key={each.value} className="flex cursor-pointer items-baseline gap-2.5 py-1">
            <input
              type="radio"
              name="what"
              className="radio radio-sm relative top-0.5"
              checked={paper.what === each.value}
              onChange={() => set({ what: each.value })}
            />
            <span>
              <span className="font-semibold">{each.label}</span>
              <span className="text-muted">: {each.says}</span>
            </span>
          </label>
        ))}
      </fieldset>
      {paper.what !== "report" && (
        <details className="mt-2" open={paper.without.length > 0}>
          <summary className="act inline cursor-pointer">Choose the steps</summary>
          <div className="mt-2 grid gap-1 sm:grid-cols-2">
            {data?.solution.steps.map((step) => (
              <label key={step.id} className="flex cursor-pointer items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={!paper.without.includes(step.id)}
                  onChange={(event) =>
                    set({
                      without: event.target.checked
                        ? paper.without.filter((each) => each !== step.id)
                        : [...paper.without, step.id],
                    })
                  }
                />
                {step.title}
              </label>
            ))}
          </div>
        </details>
      )}
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        {(["name", "course"] as const).map((each) => (
          <label key={each} className="grid gap-1">
            <span className="text-muted">{each === "name" ? "Name" : "Course"}</span>
            <input
              className="input w-full bg-sheet"
              maxLength={200}
              value={paper[each]}
              onChange={(event) => set({ [each]: event.target.value })}
            />
          </label>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-2">
        <label className="flex cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={paper.dated}
            onChange={(event) => set({ dated: event.target.checked })}
          />
          with today’s date
        </label>
        <label className="flex items-center gap-2">
          <span className="text-muted">Sheets</span>
          <select
            className="select select-sm w-auto bg-sheet"
            value={paper.size}
            onChange={(event) => set({ size: event.target.value as Paper["size"] })}
          >
            <option value="a4">A4</option>
            <option value="letter">US letter</option>
          </select>
        </label>
      </div>
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => printPaper(url())}>
          <Printer size="1.1em" aria-hidden="true" />
          Print
        </button>
        <a href={url()} target="_blank" rel="noreferrer" className="btn btn-sm">
          Look at it
        </a>
        <a href={url("html")} download className="btn btn-sm">
          <Download size="1.1em" aria-hidden="true" />
          HTML
        </a>
        <a href={url("odt")} download className="btn btn-sm" title="OpenDocument, to go on writing in a word processor">
          <Download size="1.1em" aria-hidden="true" />
          OpenDocument
        </a>
      </div>
    </Dialog>
  );
}
