import { createContext, useContext } from "react";
import type { powerQuery } from "../api/queries";
import type {
  Action,
  Condition,
  Control,
  Derived,
  Figure,
  PowerQuestion,
  ProblemSet,
  Quantity,
  Solution,
  Table,
  WorkRequest,
} from "../api/types";

/** Which of a table's rows are asked for, and in which order. */
export type RowsAsked = Pick<WorkRequest, "sort" | "descending" | "signed" | "where" | "ref">;

/** A solution, and what belongs to it. It is made anew when the solution is another, and not before. */
export interface SolutionView {
  solution: Solution;
  quantities: ReadonlyMap<string, Quantity>;
  /** Whether notes can be kept with it. */
  keepsNotes?: boolean;
  /** Where more pictures of the data can be had and kept; nowhere if undefined. */
  pictures?: string;
  /** Fetches a page of those of a table's rows that are asked for. */
  rows: (table: string, from: number, asked?: RowsAsked) => Promise<Table>;
  /** How the power of the test is asked for, and the name under which what is typed is remembered. */
  power?: { ask: (question: PowerQuestion) => ReturnType<typeof powerQuery>; name: string };
  /** Keeps derived variables with the data set; none where the problem has none. */
  derive?: (columns: Derived[]) => Promise<void>;
}

const Context = createContext<SolutionView | null>(null);

export const SolutionProvider = Context.Provider;

/** useSolution returns the solution that is shown. */
export function useSolution(): SolutionView {
  const view = useContext(Context);
  if (!view) throw new Error("a block stands outside a solution");
  return view;
}

/** useKeepsNotes tells whether notes can be kept here: not where a picture belongs to no solution. */
export const useKeepsNotes = (): boolean => useContext(Context)?.keepsNotes ?? false;

export const findTable = (solution: Solution, id: string): Table | undefined =>
  solution.tables.find((t) => t.id === id);
export const findFigure = (solution: Solution, id: string): Figure | undefined =>
  solution.figures.find((f) => f.id === id);
export const findCondition = (solution: Solution, id: string): Condition | undefined =>
  solution.conditions.find((c) => c.id === id);

/**
 * controlsAt returns the controls that are offered when so many steps are shown: alpha is chosen with the question, what
 * else stands under the curve belongs to what H₁ says and to how it is tested.
 */
export const controlsAt = (solution: Solution, shown: number): Control[] => {
  const reached = solution.steps.slice(0, shown).some((step) => step.id === "hypotheses");
  return solution.controls.filter((each) => each.beside !== "curve" || each.id === "alpha" || reached);
};

/** quantitiesOf returns a solution's quantities by id. */
export const quantitiesOf = (solution: Solution): ReadonlyMap<string, Quantity> =>
  new Map(solution.quantities.map((quantity) => [quantity.id, quantity]));

/** tablesOnly is a view of tables that belong to no solution: all their rows are there, and nothing in them opens. */
export const tablesOnly = (tables: Table[]): SolutionView => ({
  solution: { tables, figures: [] as Figure[], conditions: [] as Condition[] } as unknown as Solution,
  quantities: new Map(),
  rows: () => Promise.reject(new Error("all rows are there")),
});

/** setsOf returns everything that an action sets in the problem, another procedure first. */
export const setsOf = (action: Action): ProblemSet[] => [
  ...(action.procedure ? [{ pointer: "/procedure", value: action.procedure }] : []),
  ...(action.set ?? []),
];

const versions = new WeakMap<Table, number>();
let lastVersion = 0;

/** versionOf numbers the tables that were ever shown, so that rows of another solution are not taken for these. */
export function versionOf(table: Table): number {
  const known = versions.get(table);
  if (known !== undefined) return known;
  lastVersion += 1;
  versions.set(table, lastVersion);
  return lastVersion;
}
