import { useEffect, useMemo, useRef, useState } from "react";
import { RequestError, requestLines } from "../api/client";
import { pathOf } from "../api/queries";
import type { Problem, ProblemSet, Simulation, Worked } from "../api/types";
import { useInNumerals } from "../lib/useNumerals";
import type { Simulating } from "../solution/simulating";

/** How long each report of a simulation stands before the next, so that it is seen to fill in. */
const pace = 45;

/**
 * useSimulation draws samples under H₀ on demand, of a problem with some settings changed. When it changes while a simulation
 * is shown it is drawn anew, at once.
 */
export function useSimulation(
  problem: Pick<Problem, "id" | "shared">,
  set: ProblemSet[],
  work: Worked | undefined,
): Simulating {
  const path = pathOf(problem);
  const [asked, setAsked] = useState(0);
  const [state, setState] = useState<Simulation | null>(null);
  const [running, setRunning] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const stopping = useRef<AbortController | null>(null);
  const shownFor = useRef(0);

  const offered =
    work?.solution.steps.some((step) => step.blocks.some((block) => block.kind === "simulation")) ?? false;

  useEffect(() => {
    if (asked === 0 || !work) return;
    if (!offered) {
      setState(null);
      return;
    }
    const stop = new AbortController();
    stopping.current = stop;
    const first = shownFor.current !== asked;
    shownFor.current = asked;
    const still = !first || matchMedia("(prefers-reduced-motion: reduce)").matches;
    setRunning(true);
    setError(null);
    const { version, data_version } = work;
    (async () => {
      const lines = requestLines<Simulation>(`${path}/simulation`, { version, data_version, set }, stop.signal);
      let last: Simulation | null = null;
      for await (const line of lines) {
        if (stop.signal.aborted) return;
        last = line;
        setState(line);
        if (!still) await new Promise((done) => setTimeout(done, pace));
      }
      if (last?.drawn !== last?.repetitions) throw new Error("The simulation ended before all samples were drawn.");
    })()
      .catch((reason: unknown) => {
        if (stop.signal.aborted) return;
        setError(reason instanceof RequestError || reason instanceof Error ? reason.message : String(reason));
      })
      .finally(() => {
        if (stopping.current === stop) setRunning(false);
      });
    return () => stop.abort();
  }, [asked, work, offered, path, set]);

  const shown = useInNumerals(state);
  return useMemo(
    () => ({
      state: shown,
      running,
      offered,
      error,
      start: () => {
        setState(null);
        setAsked((times) => times + 1);
      },
      stop: () => {
        stopping.current?.abort();
        setRunning(false);
      },
      clear: () => {
        stopping.current?.abort();
        setRunning(false);
        setAsked(0);
        shownFor.current = 0;
        setState(null);
        setError(null);
      },
    }),
    [shown, running, offered, error],
  );
}
