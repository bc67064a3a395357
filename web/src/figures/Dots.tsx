import type { Mark } from "../api/types";
import { nameOfCase, present } from "./marks";

interface DotsProps {
  mark: Mark;
  x: (v: number) => number;
  y: number;
  chosen: ReadonlySet<number>;
  onChoose: (cases: number[]) => void;
}

/** Dots stack the cases of equal value downwards, as far as the row has room. */
export function Dots({ mark, x, y, chosen, onChoose }: DotsProps) {
  const step = 4.4;
  const room = 6;
  const heights = new Map<number, number>();
  const values = present(mark.x);
  const crowded = values.length > 400;
  return (
    <g>
      {values.map((value, i) => {
        const at = Math.round(x(value) / step);
        const level = heights.get(at) ?? 0;
        heights.set(at, level + 1);
        const number = mark.case?.[i] ?? 0;
        const lit = chosen.has(number);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the same case is chosen by key in the table
          <circle
            key={number}
            cx={x(value)}
            cy={y + Math.min(level, room) * step}
            r={lit ? 4 : 2}
            fill={lit ? "var(--color-primary)" : "var(--ink)"}
            fillOpacity={lit ? 1 : crowded ? 0.35 : 0.72}
            onClick={() => onChoose([number])}
          >
            <title>{nameOfCase(number, value)}</title>
          </circle>
        );
      })}
    </g>
  );
}
