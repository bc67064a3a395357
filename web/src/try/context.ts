import { createContext, useContext } from "react";

/** What a person can do about an ask. */
export interface Doing {
  answer: (ask: string, text: string) => void;
  help: (ask: string) => void;
  /** Whether an answer to an ask is on its way. */
  waits: (ask: string) => boolean;
  /** Goes to the next ask that is open, after this one where there is one. */
  next: (after: string) => void;
}

const Context = createContext<Doing>({ answer: () => {}, help: () => {}, waits: () => false, next: () => {} });

export const DoingProvider = Context.Provider;

/** useDoing returns what can be done about the asks of the page. */
export const useDoing = (): Doing => useContext(Context);
