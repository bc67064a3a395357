import { createContext, useContext } from "react";

/** Current tells what stands at a place of the problem file now, null where nothing does. */
export type Current = (pointer: string) => unknown;

const Context = createContext<Current>(() => null);

export const CurrentProvider = Context.Provider;

/** useCurrent returns what tells the present settings: those chosen last, even where their solution is still on the way. */
export const useCurrent = (): Current => useContext(Context);
