import { scaleLinear } from "d3-scale";
import type { Figure } from "../api/types";
import { fixed } from "../lib/number";
import { AxisView } from "./Axis";
import { labelRoom, present, shortened, tick } from "./marks";

const thickness = 15;
const gap = 12;
/** Inks of the parts, from solid to pale; each part also has its name in the legend. */
const inks = [0.85, 0.42, 0.2, 0.62, 0.3, 0.12];

/** stacked reports whether the bars of a row follow on each other. */
const stacked = (figure: Figure): boolean => figure.marks.some((mark) => (mark.x?.[0] ?? 0) > 0);

const partsOf = (figure: Figure): number => (stacked(figure) ? 1 : Math.max(1, figure.series?.length ?? 1));
const rowsOf = (figure: Figure): number => 1 + Math.max(0, ...figure.marks.map((mark) => mark.row ?? 0));
const rowHeight = (figure: Figure): number => partsOf(figure) * thickness + gap;
const legendHeight = (figure: Figure): number => (figure.series?.length ? 24 : 4);

/** barsHeight is the height that the rows of a figure need. */
export function barsHeight(figure: Figure): number {
  return legendHeight(figure) + rowsOf(figure) * rowHeight(figure) + 30;
}

/** BarsFigure has a row for each category, with a bar from the left for each part of it. */
export function BarsFigure({ figure, width }: { figure: Figure; width: number }) {
  const rows = new Map(figure.marks.map((mark) => [mark.row ?? 0, mark.label ?? ""]));
  const left = labelRoom([...rows.values()]);
  // Bars to both sides of 0 have their numbers at both ends.
  const least = Math.min(0, figure.axis.min ?? 0);
  const x = scaleLinear([least, (figure.axis.max ?? 1) * 1.02], [least < 0 ? left + 30 : left, width - 34]);
  const top = legendHeight(figure);
  const height = rowHeight(figure);
  const onEachOther = stacked(figure);
  const series = figure.series ?? [];
  let at = left;
  return (
    <>
      {series.map((name, i) => {
        const start = at;
        at += 26 + shortened(name).length * 7;
        return (
          <g key={name}>
            <Swatch x={start} y={5} part={i} />
            <text x={start + 17} y={15} className="text-[12px]" fill="var(--ink)">
              {shortened(name)}
            </text>
          </g>
        );
      })}
      {[...rows].map(([row, label]) => (
        <text
          key={row}
          x={left - 10}
          y={top + row * height + (height - gap) / 2 + 5}
          textAnchor="end"
          className="font-semibold text-[13px]"
          fill="var(--ink)"
        >
          {shortened(label)}
          <title>{label}</title>
        </text>
      ))}
      {figure.marks.map((mark) => {
        const [from = 0, to = 0] = present(mark.x);
        const part = mark.part ?? 0;
        const y = top + (mark.row ?? 0) * height + (onEachOther ? 0 : part * thickness);
        const length = from < 0 ? from : to - (onEachOther ? from : 0);
        const shown = tick(Number.isInteger(length) ? String(length) : fixed(length, least < 0 ? 2 : 1));
        return (
          <g key={`${mark.role}/${mark.row}/${part}`}>
            <rect
              x={x(from)}
              y={y}
              width={Math.max(0, x(to) - x(from))}
              height={thickness - 1.5}
              fill={mark.role === "expected" ? "none" : "var(--ink)"}
              fillOpacity={inks[part % inks.length]}
              stroke={mark.role === "expected" ? "var(--expected)" : "var(--ink)"}
              strokeWidth={mark.role === "expected" ? 2 : 0.8}
            >
              <title>{`${mark.label}${series[part] ? `, ${series[part]}` : ""}: ${shown}${figure.axis.unit ?? ""}`}</title>
            </rect>
            {!onEachOther && mark.role !== "expected" && (
              <text
                x={from < 0 ? x(from) - 4 : x(to) + 4}
                y={y + 11}
                textAnchor={from < 0 ? "end" : "start"}
                className="text-[11px]"
                fill="var(--muted)"
              >
                {shown}
              </text>
            )}
          </g>
        );
      })}
      <line x1={x(0)} x2={x(0)} y1={top - 4} y2={top + rows.size * height - gap + 6} stroke="var(--muted)" />
      <AxisView scale={x} y={top + rows.size * height - gap + 8} unit={figure.axis.unit} count={5} />
    </>
  );
}

function Swatch({ x, y, part }: { x: number; y: number; part: number }) {
  return (
    <rect
      x={x}
      y={y}
      width="12"
      height="11"
      fill="var(--ink)"
      fillOpacity={inks[part % inks.length]}
      stroke="var(--ink)"
      strokeWidth="0.8"
    />
  );
}
