import { createContext, useContext } from "react";
import type { Simulation } from "../api/types";

/** A simulation of the p-value, and how it is started and ended. */
export interface Simulating {
  /** How far it has come, null before it is asked for. */
  state: Simulation | null;
  running: boolean;
  /** Whether the problem's test has a simulation. */
  offered: boolean;
  error: string | null;
  start: () => void;
  /** Stops it, and leaves what was drawn until then. */
  stop: () => void;
  clear: () => void;
}

const Context = createContext<Simulating | null>(null);

export const SimulatingProvider = Context.Provider;

/** useSimulating returns the simulation that the page has, null where it has none. */
export const useSimulating = (): Simulating | null => useContext(Context);
