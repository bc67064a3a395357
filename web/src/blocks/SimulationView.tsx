import type { SimulationBlock } from "../api/types";
import { FigureView } from "../figures/FigureView";
import { whole } from "../lib/words";
import { useSimulating } from "../solution/simulating";
import { findFigure, useSolution } from "../solution/solution";
import { NumberButton } from "./Number";

/** SimulationView offers to see the p-value: samples drawn under H₀, and how many are as extreme as the one observed. */
export function SimulationView({ block }: { block: SimulationBlock }) {
  const { solution } = useSolution();
  const simulation = useSimulating();
  if (!simulation) return null;
  const { state, running, error, start, stop, clear } = simulation;
  const curve = findFigure(solution, "curve");
  return (
    <section
      aria-label="The p-value seen"
      className="screen-only rounded-box border border-base-300 bg-sheet px-4 py-3"
    >
      <h3 className="font-semibold">The p-value seen</h3>
      <p className="mt-0.5">{block.how}</p>
      {!state && (
        <p className="mt-2 flex flex-wrap items-baseline gap-x-4">
          <button type="button" className="act" onClick={start} disabled={running}>
            {running ? "Drawing …" : `Do it ${whole(block.repetitions)} times`}
          </button>
          <span className="text-muted">The bars fill in behind the curve.</span>
        </p>
      )}
      {state && (
        <>
          <p className="mt-2 flex flex-wrap items-baseline gap-x-3" data-testid="simulated">
            <span className="font-semibold font-serif text-[1.5rem] leading-tight">{state.shown}</span>
            <span>
              {whole(state.as_extreme)} of {whole(state.drawn)} as extreme as the sample or more
            </span>
            <span className="text-muted">
              beside <NumberButton id={state.p} />
            </span>
          </p>
          {running && (
            <progress
              className="progress progress-primary mt-1.5 h-1.5 w-full"
              aria-label="Samples drawn"
              value={state.drawn}
              max={state.repetitions}
            />
          )}
          {curve && (
            <div className="mt-2 lg:hidden">
              <FigureView figure={curve} width={384} />
            </div>
          )}
          <p className="mt-1.5" role="status">
            {state.says}
          </p>
          <p className="mt-1 text-muted">{block.assumes}</p>
          <p className="mt-2 flex flex-wrap gap-x-5">
            {running ? (
              <button type="button" className="act" onClick={stop}>
                Stop
              </button>
            ) : (
              <>
                <button type="button" className="act" onClick={clear}>
                  Take the bars off the curve
                </button>
                {state.drawn < state.repetitions && (
                  <button type="button" className="act" onClick={start}>
                    Do it again from the start
                  </button>
                )}
              </>
            )}
          </p>
        </>
      )}
      {error && (
        <p role="alert" className="mt-2 text-(--region-text)">
          {error}{" "}
          <button type="button" className="act" onClick={start}>
            Try again
          </button>
        </p>
      )}
    </section>
  );
}
