import type { ScaleLinear } from "d3-scale";
import { tick } from "./marks";

interface Props {
  scale: ScaleLinear<number, number>;
  y: number;
  unit?: string;
  count?: number;
}

/** AxisView is a line with a few round numbers under it, the unit at its end. */
export function AxisView({ scale, y, unit, count = 6 }: Props) {
  const [from = 0, to = 0] = scale.range();
  const format = scale.tickFormat(count);
  const room = unit ? to - unit.length * 6 - 14 : to;
  return (
    <g className="text-[11px]" fill="var(--muted)">
      <line x1={from} x2={to} y1={y} y2={y} stroke="var(--muted)" strokeWidth="1" />
      {scale.ticks(count).map((value) => (
        <g key={value}>
          <line x1={scale(value)} x2={scale(value)} y1={y} y2={y + 4} stroke="var(--muted)" />
          {scale(value) <= room && (
            <text x={scale(value)} y={y + 16} textAnchor="middle">
              {tick(format(value))}
            </text>
          )}
        </g>
      ))}
      {unit && (
        <text x={to} y={y + 16} textAnchor="end">
          {unit}
        </text>
      )}
    </g>
  );
}
