import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useMemo } from "react";
import { RequestError } from "../api/client";
import { reportQuery, workQuery } from "../api/queries";
import type { Block, LabreportPiece, ReportProblem } from "../api/types";
import { useNumerals } from "../lib/useNumerals";
import { StepBlocks } from "../problem/Thread";
import { viewOf } from "../problem/useSolutionView";
import { SolutionProvider, type SolutionView } from "../solution/solution";

/** useProblemOf returns the solution of a problem of a report as the report is read; undefined until it is there. */
function useProblemOf(report: string, problem: ReportProblem): { view?: SolutionView; error: Error | null } {
  const client = useQueryClient();
  const numerals = useNumerals();
  const { data, error } = useQuery(workQuery(problem, [], 0));
  const stale = error instanceof RequestError && error.status === 409;
  useEffect(() => {
    if (stale) client.invalidateQueries({ queryKey: reportQuery(report).queryKey }); // the problem was changed since
  }, [client, report, stale]);
  const view = useMemo(() => {
    if (!data) return undefined;
    const { version, data_version } = data;
    const all = viewOf(client, { id: problem.id, version, data_version }, [], data, numerals);
    // What changes a problem is done there.
    const conditions = all.solution.conditions.map((condition) => ({ ...condition, actions: [] }));
    const figures = all.solution.figures.map((figure) => ({ ...figure, handles: [] }));
    return { ...all, solution: { ...all.solution, conditions, figures } };
  }, [client, problem.id, data, numerals]);
  return { view, error: stale ? null : error };
}

/** OfProblem shows what belongs to the solution of a problem. */
export function OfProblem({
  report,
  problem,
  children,
}: {
  report: string;
  problem: ReportProblem;
  children: ReactNode;
}) {
  const { view, error } = useProblemOf(report, problem);
  if (error)
    return (
      <p role="alert" className="text-(--region-text)">
        {error.message}
      </p>
    );
  if (!view)
    return (
      <p role="status" className="text-muted">
        Working “{problem.title}” …
      </p>
    );
  return <SolutionProvider value={view}>{children}</SolutionProvider>;
}

/** What in a step only changes the problem or explores it stays with the problem. */
const stays: ReadonlySet<Block["kind"]> = new Set<Block["kind"]>([
  "control",
  "choice",
  "derive",
  "place",
  "contrast",
  "simulation",
  "power",
]);

/** PieceView shows what is kept of a problem, as it is now. */
export function PieceView({ piece }: { piece: LabreportPiece }) {
  const blocks = (piece.blocks ?? [])
    .filter((block) => !stays.has(block.kind))
    .map((block) => (block.kind === "figure" ? { ...block, actions: undefined } : block));
  return (
    <div className="grid grid-cols-1 gap-3">
      {piece.heading && <h2 className="font-semibold text-[1.12rem]">{piece.heading}</h2>}
      <StepBlocks blocks={blocks} />
    </div>
  );
}
