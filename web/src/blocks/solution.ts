import { createContext, useContext } from "react";
import type { powerQuery } from "../api/queries";
import type {
  Action,
  Condition,
  Derived,
  Figure,
  PowerQuestion,
  ProblemSet,
  Quantity,
  Solution,
  Table,
  WorkRequest,
} from "../api/types";
import type { SimulationView } from "../problem/useSimulation";

/** Which of a table's rows are asked for, and in which order. */
export type RowsAsked = Pick<WorkRequest, "sort" | "descending" | "where" | "ref">;

/** What every block may look up and do. */
export interface SolutionView {
  solution: Solution;
  quantities: Map<string, Quantity>;
  /** Opens a number: its formula and ingredients, beside the element. */
  open: (ref: string, at: Element) => void;
  /** What stands at a place of the problem file now, null where nothing does. */
  current: (pointer: string) => unknown;
  /** Changes the problem at once. */
  change: (set: ProblemSet[], says: string) => void;
  act: (action: Action) => void;
  /** Where more pictures of the data can be had and kept; nowhere if undefined. */
  pictures?: string;
  /** Fetches a page of those of a table's rows that are asked for. */
  rows: (table: string, from: number, asked?: RowsAsked) => Promise<Table>;
  /** The simulation of the p-value; none where nothing can be drawn. */
  simulation?: SimulationView;
  /** How the power of the test is asked for, and the name under which what is typed is remembered. */
  power?: { ask: (question: PowerQuestion) => ReturnType<typeof powerQuery>; name: string };
  /** Keeps derived variables with the data set; none where the problem has none. */
  derive?: (columns: Derived[]) => Promise<void>;
  /** The cases chosen in any figure or table. */
  chosen: ReadonlySet<number>;
  choose: (cases: number[]) => void;
}

const Context = createContext<SolutionView | null>(null);

export const SolutionProvider = Context.Provider;

/** useSolution returns what the blocks of a solution share. */
export function useSolution(): SolutionView {
  const view = useContext(Context);
  if (!view) throw new Error("a block stands outside a solution");
  return view;
}

export const findTable = (solution: Solution, id: string): Table | undefined =>
  solution.tables.find((t) => t.id === id);
export const findFigure = (solution: Solution, id: string): Figure | undefined =>
  solution.figures.find((f) => f.id === id);
export const findCondition = (solution: Solution, id: string): Condition | undefined =>
  solution.conditions.find((c) => c.id === id);

/** plainView is a view of tables and figures that belong to no solution: nothing in them opens or changes a problem. */
export function plainView(tables: Table[], figures: Figure[], onCases: (cases: number[]) => void): SolutionView {
  const nothing = () => {};
  return {
    solution: { tables, figures, conditions: [] as Condition[] } as unknown as Solution,
    quantities: new Map(),
    open: nothing,
    current: () => null,
    change: nothing,
    act: nothing,
    rows: () => Promise.reject(new Error("all rows are there")),
    chosen: new Set(),
    choose: onCases,
  };
}

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
