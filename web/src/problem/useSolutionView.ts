import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { askOf, powerQuery, type Versions } from "../api/queries";
import type { Problem, ProblemSet, Table, Worked } from "../api/types";
import { useToast } from "../app/toasts";
import { dataSetQuery, keepDerived } from "../data/context";
import { inNumerals, type Numerals } from "../lib/numerals";
import { useNumerals } from "../lib/useNumerals";
import { quantitiesOf, type SolutionView } from "../solution/solution";

/**
 * useSolutionView returns what belongs to a solution of a problem with some settings changed; the same object until the
 * solution is another. With what is shared nothing is kept.
 */
export function useSolutionView(
  problem: Problem,
  set: ProblemSet[],
  work: Worked | undefined,
): SolutionView | undefined {
  const client = useQueryClient();
  const toast = useToast();
  const numerals = useNumerals();
  const { id, shared, data_set: dataSet } = problem;
  const ofData = problem.draft?.entry === "data" && !shared;
  const pictures = ofData ? picturesOf(problem) : undefined;
  return useMemo(() => {
    if (!work) return undefined;
    const of = { id, shared, version: work.version, data_version: work.data_version };
    return {
      ...viewOf(client, of, set, work, numerals),
      keepsNotes: !shared,
      pictures,
      power: {
        ask: (question) => ({ ...powerQuery(of, set, question), select: (power) => inNumerals(power, numerals) }),
        name: `power.${id}`,
      },
      derive: ofData
        ? async (columns) => {
            const kept = await keepDerived(await client.fetchQuery(dataSetQuery(dataSet)), columns);
            // The problem has another version of the data now, which nothing in it has changed by.
            const fresh = () => {
              client.invalidateQueries({ queryKey: ["data-set", dataSet] });
              client.invalidateQueries({ queryKey: ["problem", id] });
            };
            fresh();
            toast({
              says: `Kept with the data: ${kept.names.join(" and ")}.`,
              action: { label: "Undo", act: () => kept.undo().then(fresh) },
            });
          }
        : undefined,
    };
  }, [work, id, shared, set, dataSet, ofData, pictures, client, toast, numerals]);
}

/** viewOf returns a solution, which is of these versions with some settings changed, with all that is read of it. */
export function viewOf(
  client: QueryClient,
  of: Versions,
  set: ProblemSet[],
  work: Worked,
  numerals: Numerals,
): SolutionView {
  const solution = inNumerals(work.solution, numerals);
  const steps = solution.held_back ? solution.steps.length : 0;
  return {
    solution,
    quantities: quantitiesOf(solution),
    rows: (table, from, asked) =>
      askOf<Table>(client, of, "work", { set, steps, table, from, ...asked }).then((page) =>
        inNumerals(page, numerals),
      ),
  };
}

/** picturesOf returns the address where the problem's data can be looked at, beginning with the variables that have a role. */
function picturesOf(problem: Problem): string {
  const roles = Object.values(problem.draft?.roles ?? {}).flat();
  const look = roles.length > 0 ? roles.slice(0, 2) : ["response", "group"];
  return `/data/${problem.data_set}?${new URLSearchParams([["problem", problem.id], ...look.map((name) => ["look", name])])}`;
}
