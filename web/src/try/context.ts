import { createContext, type ReactNode, useContext } from "react";
import type { Item } from "../api/types";

/** What a person can do about an ask. */
export interface Doing {
  answer: (ask: string, text: string) => void;
  help: (ask: string) => void;
  /** Whether an answer to an ask is on its way. */
  waits: (ask: string) => boolean;
  /** Goes to the next ask that is open, after this one where there is one. */
  next: (after: string) => void;
  /** Whether the answers are only looked at. */
  fixed: boolean;
  /** What stands beside an ask that others said or may say. */
  aside: (item: Item) => ReactNode;
}

const Context = createContext<Doing>({
  answer: () => {},
  help: () => {},
  waits: () => false,
  next: () => {},
  fixed: false,
  aside: () => null,
});

export const DoingProvider = Context.Provider;

/** useDoing returns what can be done about the asks of the page. */
export const useDoing = (): Doing => useContext(Context);
