import { createContext, useContext } from "react";

/** The cases that are chosen in any figure or table, and how others are. */
export interface Chosen {
  chosen: ReadonlySet<number>;
  choose: (cases: number[]) => void;
}

const Context = createContext<Chosen>({ chosen: new Set(), choose: () => {} });

export const ChosenProvider = Context.Provider;

/** useChosen returns the cases that are lit up. */
export const useChosen = (): Chosen => useContext(Context);
