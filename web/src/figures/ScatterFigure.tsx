import { scaleLinear } from "d3-scale";
import type { Figure } from "../api/types";
import { AxisView } from "./Axis";
import { tick } from "./marks";

interface Props {
  figure: Figure;
  width: number;
  height: number;
  chosen: ReadonlySet<number>;
  onChoose: (cases: number[]) => void;
}

/** ScatterFigure has a dot for each case over two axes of values. */
export function ScatterFigure({ figure, width, height, chosen, onChoose }: Props) {
  const left = 44;
  const base = height - 40;
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 10]);
  const y = scaleLinear([figure.up?.min ?? 0, figure.up?.max ?? 1], [base, 22]);
  const format = y.tickFormat(5);
  return (
    <>
      <text x={4} y={12} className="text-[12px]" fill="var(--ink)">
        {figure.up?.label}
        {figure.up?.unit && ` (${figure.up.unit})`}
      </text>
      <g className="text-[11px]" fill="var(--muted)">
        {y.ticks(5).map((value) => (
          <g key={value}>
            <line x1={left} x2={width - 10} y1={y(value)} y2={y(value)} stroke="var(--color-base-300)" />
            <text x={left - 6} y={y(value) + 4} textAnchor="end">
              {tick(format(value))}
            </text>
          </g>
        ))}
      </g>
      {figure.marks
        .filter((mark) => mark.shape === "line")
        .map((mark) => (
          <polyline
            key={mark.label ?? mark.role}
            points={(mark.x ?? []).map((at, i) => `${x(at ?? 0)},${y(mark.y?.[i] ?? 0)}`).join(" ")}
            fill="none"
            stroke="var(--expected)"
            strokeWidth={1.5}
            strokeDasharray="5 4"
          />
        ))}
      {figure.marks
        .filter((mark) => mark.shape === "points")
        .map((mark) =>
          (mark.x ?? []).map((at, i) => {
            const up = mark.y?.[i];
            const number = mark.case?.[i] ?? i;
            if (at === null || up === null || up === undefined) return null;
            const lit = chosen.has(number);
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: the same case is gone to by key in the table
              <circle
                key={number}
                cx={x(at)}
                cy={y(up)}
                r={lit ? 4.5 : 2.6}
                fill={lit ? "var(--color-primary)" : "var(--ink)"}
                fillOpacity={lit ? 1 : 0.62}
                className="cursor-pointer"
                onClick={() => onChoose([number])}
              >
                <title>{`case ${number}: ${at}, ${up}`}</title>
              </circle>
            );
          }),
        )}
      <AxisView scale={x} y={base} count={width < 300 ? 3 : 6} />
      <text x={width - 10} y={height - 6} textAnchor="end" className="text-[12px]" fill="var(--ink)">
        {figure.axis.label}
        {figure.axis.unit && ` (${figure.axis.unit})`}
      </text>
    </>
  );
}
