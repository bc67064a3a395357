import { scaleLinear } from "d3-scale";
import type { Figure, Mark } from "../api/types";
import { AxisView } from "./Axis";
import { tick } from "./marks";

interface Props {
  figure: Figure;
  width: number;
  height: number;
}

/** PowerFigure is power over the number of cases, with the present sample and the one that is needed. */
export function PowerFigure({ figure, width, height }: Props) {
  const left = 34;
  const base = height - 40;
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 12]);
  const y = scaleLinear([0, 1], [base, 24]);
  const wanted = figure.marks.find((mark) => mark.shape === "rule");
  const line = figure.marks.find((mark) => mark.shape === "line");
  return (
    <>
      <text x={4} y={12} className="text-[12px]" fill="var(--ink)">
        {figure.up?.label}
      </text>
      <g className="text-[11px]" fill="var(--muted)">
        {y.ticks(5).map((value) => (
          <g key={value}>
            <line x1={left} x2={width - 12} y1={y(value)} y2={y(value)} stroke="var(--color-base-300)" />
            <text x={left - 6} y={y(value) + 4} textAnchor="end">
              {tick(y.tickFormat(5)(value))}
            </text>
          </g>
        ))}
      </g>
      {wanted?.y?.[0] != null && (
        <line
          x1={left}
          x2={width - 12}
          y1={y(wanted.y[0])}
          y2={y(wanted.y[0])}
          stroke="var(--color-primary)"
          strokeDasharray="6 4"
        />
      )}
      {line && (
        <polyline
          points={(line.x ?? []).map((at, i) => `${x(at ?? 0)},${y(line.y?.[i] ?? 0)}`).join(" ")}
          fill="none"
          stroke="var(--expected)"
          strokeWidth="2.2"
        />
      )}
      {figure.marks
        .filter((mark) => mark.shape === "points")
        .map((mark) => (
          <Place
            key={mark.role}
            mark={mark}
            x={x(mark.x?.[0] ?? 0)}
            y={y(mark.y?.[0] ?? 0)}
            base={base}
            width={width}
          />
        ))}
      <AxisView scale={x} y={base} count={6} />
      <text x={width - 12} y={height - 6} textAnchor="end" className="text-[12px]" fill="var(--ink)">
        {figure.axis.label}
      </text>
    </>
  );
}

/** Place is a sample on the curve: solid where it was drawn, a ring where it would have to be. */
function Place({ mark, x, y, base, width }: { mark: Mark; x: number; y: number; base: number; width: number }) {
  const observed = mark.role === "observed";
  // The curve rises, so there is room above it to the left and below it to the right.
  const leftwards = observed ? x > width - 110 : x > 110;
  return (
    <g>
      <line
        x1={x}
        x2={x}
        y1={base}
        y2={y}
        stroke="var(--ink)"
        strokeWidth="1"
        strokeDasharray={observed ? "" : "3 3"}
      />
      <circle
        cx={x}
        cy={y}
        r="4.8"
        fill={observed ? "var(--ink)" : "var(--sheet)"}
        stroke="var(--ink)"
        strokeWidth={observed ? 0 : 2}
      />
      <text
        x={leftwards ? x - 9 : x + 9}
        y={observed ? y + 16 : y - 9}
        textAnchor={leftwards ? "end" : "start"}
        className="font-semibold text-[12px]"
        fill="var(--ink)"
        stroke="var(--sheet)"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {mark.label}
      </text>
    </g>
  );
}
