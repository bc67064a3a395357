import { createContext, useContext } from "react";
import type { Action, ProblemSet } from "../api/types";

/** What can be done from anywhere in a solution. The functions stay the same as long as the page does. */
export interface Actions {
  /** Opens a number: its formula and ingredients, beside the element. */
  open: (ref: string, at: Element) => void;
  /** Changes the problem at once; says names the change for undo. */
  change: (set: ProblemSet[], says: string) => void;
  act: (action: Action) => void;
}

const nothing = () => {};

/** Outside a problem nothing opens and nothing changes. */
const Context = createContext<Actions>({ open: nothing, change: nothing, act: nothing });

export const ActionsProvider = Context.Provider;

/** useActions returns what can be done. */
export const useActions = (): Actions => useContext(Context);
