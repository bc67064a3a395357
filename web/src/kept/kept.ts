import { createContext, useContext } from "react";

/** Keeps says what of the problem is kept for a report, and keeps more. */
export interface Keeps {
  /** What is kept: number/t, table/cases. */
  at: ReadonlySet<string>;
  /** Keeps something, or takes it away where it is kept; what says what it is, as "the table “…”". */
  toggle: (at: string, what: string) => void;
}

const Context = createContext<Keeps | null>(null);

export const KeepsProvider = Context.Provider;

/** useKeeps returns what is kept; null where nothing can be. */
export const useKeeps = (): Keeps | null => useContext(Context);
