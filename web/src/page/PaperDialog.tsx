import { useQuery } from "@tanstack/react-query";
import { Download, Printer } from "lucide-react";
import { pathOf, workQuery } from "../api/queries";
import type { Problem, Solution } from "../api/types";
import { Dialog } from "../app/Dialog";
import { PaperHead } from "../app/PaperHead";
import { type Paper, paperOfProblem, printPaper, usePaper } from "../lib/paper";

const whats: { value: Paper["what"]; label: string; says: string }[] = [
  { value: "full", label: "The full working", says: "every step, with its pictures and tables" },
  {
    value: "short",
    label: "A short working",
    says: "hypotheses, statistic, critical value, p, decision, conclusion, the curve",
  },
  { value: "report", label: "The report only", says: "the line for a paper and the sentence that answers the problem" },
];

/** How many rows of a table stand on paper where not all are asked for. */
const cutAt = 60;

/** toggled returns a list with something in it, or without it. */
const toggled = (list: string[], each: string, isIn: boolean): string[] =>
  isIn ? [...list, each] : list.filter((other) => other !== each);

/** partsOf are the tables and pictures of a solution that may stay out, each once. */
function partsOf(solution: Solution | undefined): { at: string; title: string }[] {
  const blocks = (solution?.steps ?? []).flatMap((step) => step.blocks);
  const tables = solution?.tables.filter(
    (t) => !t.marked && blocks.some((b) => b.kind === "table" && b.table === t.id),
  );
  const figures = solution?.figures.filter(
    (f) => f.id === "curve" || blocks.some((b) => b.kind === "figure" && b.figure === f.id),
  );
  return [
    ...(tables ?? []).map((table) => ({ at: `table/${table.id}`, title: table.title })),
    ...(figures ?? []).map((figure) => ({ at: `figure/${figure.id}`, title: figure.title })),
  ];
}

/** PaperDialog says what goes onto paper, prints it, or saves it as a file. */
export function PaperDialog({ problem, onClose }: { problem: Problem; onClose: () => void }) {
  const [paper, setPaper] = usePaper();
  const url = (save?: "html" | "odt") => paperOfProblem(pathOf(problem), paper, save);
  const { data } = useQuery(workQuery(problem, [], 0));
  const parts = partsOf(data?.solution);
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
              <Ticked
                key={step.id}
                label={step.title}
                ticked={!paper.without.includes(step.id)}
                onTick={(ticked) => set({ without: toggled(paper.without, step.id, !ticked) })}
              />
            ))}
          </div>
        </details>
      )}
      {paper.what === "full" && parts.length > 0 && (
        <details className="mt-2" open={paper.leftOut.some((each) => parts.some(({ at }) => at === each))}>
          <summary className="act inline cursor-pointer">Choose the tables and pictures</summary>
          <div className="mt-2 grid gap-1 sm:grid-cols-2">
            {parts.map(({ at, title }) => (
              <Ticked
                key={at}
                label={title}
                ticked={!paper.leftOut.includes(at)}
                onTick={(ticked) => set({ leftOut: toggled(paper.leftOut, at, !ticked) })}
              />
            ))}
          </div>
        </details>
      )}
      {paper.what === "full" && data?.solution.tables.some((table) => table.total > cutAt) && (
        <div className="mt-2">
          <Ticked
            label="All rows of long tables, not the first 60 alone"
            ticked={paper.allRows}
            onTick={(allRows) => set({ allRows })}
          />
        </div>
      )}
      <PaperHead paper={paper} onSet={set} />
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

function Ticked({ label, ticked, onTick }: { label: string; ticked: boolean; onTick: (ticked: boolean) => void }) {
  return (
    <label className="flex cursor-pointer items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={ticked}
        onChange={(event) => onTick(event.target.checked)}
      />
      {label}
    </label>
  );
}
