import type { ScaleLinear } from "d3-scale";
import type { Simulation } from "../api/types";

/** barTop is the height of the tallest bar, on the scale of a density. */
export function barTop(simulation: Simulation): number {
  return Math.max(...simulation.counts) / (simulation.repetitions * (simulation.width ?? 1));
}

interface Props {
  simulation: Simulation;
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
}

/**
 * SimulatedBars are the statistics drawn so far, on the scale of the density: they have
 * grown up to the curve when all are drawn. The share that is as extreme as the sample
 * is filled.
 */
export function SimulatedBars({ simulation, x, y }: Props) {
  const low = simulation.low ?? 0;
  const width = simulation.width ?? 1;
  const height = (count: number) => y(count / (simulation.repetitions * width));
  const [left = 0, right = 0] = x.range();
  return (
    <g data-testid="simulated-bars">
      {simulation.counts.map((count, i) => {
        if (count === 0) return null;
        const from = Math.max(left, x(low + i * width));
        const to = Math.min(right, x(low + (i + 1) * width));
        const extreme = simulation.extreme[i] ?? 0;
        const gap = to - from > 4 ? 0.5 : 0;
        const bar = { x: from + gap, width: Math.max(0.5, to - from - 2 * gap) };
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: the bars stand in a fixed order
          <g key={i}>
            <rect
              {...bar}
              y={height(count)}
              height={height(0) - height(count)}
              fill="var(--expected)"
              fillOpacity="0.16"
              stroke="var(--expected)"
              strokeOpacity="0.55"
              strokeWidth="0.7"
            />
            {extreme > 0 && (
              <rect
                {...bar}
                y={height(extreme)}
                height={height(0) - height(extreme)}
                fill="var(--ink)"
                fillOpacity="0.55"
              />
            )}
          </g>
        );
      })}
    </g>
  );
}
