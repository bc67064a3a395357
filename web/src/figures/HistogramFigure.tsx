import { scaleLinear } from "d3-scale";
import type { Figure, Handle } from "../api/types";
import { measured } from "../lib/number";
import { AxisView } from "./Axis";
import { Grip } from "./Grip";
import { present, tick, tickRoom } from "./marks";

const single = 168;
const several = 86;

/** rowsOf is how many histograms stand under each other. */
const rowsOf = (figure: Figure): number => 1 + Math.max(0, ...figure.marks.map((mark) => mark.row ?? 0));

/** histogramHeight is the height that the rows of a figure need. */
export function histogramHeight(figure: Figure): number {
  const rows = rowsOf(figure);
  return (rows === 1 ? single : several * rows) + 34;
}

interface Props {
  figure: Figure;
  width: number;
  /** Moves a boundary of the classes, where there are any to move. */
  onMove: (handle: Handle, value: number) => void;
}

/** HistogramFigure has bars of counts over classes, a row of them for each group, on one axis. */
export function HistogramFigure({ figure, width, onMove }: Props) {
  const rows = rowsOf(figure);
  const height = rows === 1 ? single : several;
  const y = scaleLinear([0, figure.up?.max ?? 1], [0, height - 26]);
  const ticks = y.ticks(rows === 1 ? 4 : 2).filter(Number.isInteger);
  const left = tickRoom(ticks.map((count) => tick(String(count))));
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 10]);
  return (
    <>
      {Array.from({ length: rows }, (_, row) => {
        const base = (row + 1) * height;
        const marks = figure.marks.filter((mark) => (mark.row ?? 0) === row);
        const label = rows > 1 ? marks[0]?.label : undefined;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
          <g key={row}>
            {ticks.map((count) => (
              <g key={count}>
                <line
                  x1={left}
                  x2={width - 10}
                  y1={base - y(count)}
                  y2={base - y(count)}
                  stroke="var(--color-base-300)"
                />
                <text x={left - 6} y={base - y(count) + 4} textAnchor="end" className="text-[11px]" fill="var(--muted)">
                  {tick(String(count))}
                </text>
              </g>
            ))}
            {marks
              .filter((mark) => mark.shape === "bar")
              .map((mark) => {
                const [from = 0, to = 0] = present(mark.x);
                const count = mark.y?.[0] ?? 0;
                return (
                  <rect
                    key={`${mark.role}${from}`}
                    x={x(from) + 0.5}
                    y={base - y(count)}
                    width={Math.max(0.5, x(to) - x(from) - 1)}
                    height={y(count)}
                    fill={mark.role === "expected" ? "none" : "var(--ink)"}
                    fillOpacity="0.72"
                    stroke={mark.role === "expected" ? "var(--expected)" : "none"}
                    strokeWidth="2"
                  >
                    <title>{`from ${tick(measured(from))} to ${tick(measured(to))}: ${tick(measured(count))}`}</title>
                  </rect>
                );
              })}
            {marks
              .filter((mark) => mark.shape === "line")
              .map((mark) => (
                <path
                  key="curve"
                  d={(mark.x ?? [])
                    .map(
                      (at, i) =>
                        `${i === 0 ? "M" : "L"}${x(at ?? 0).toFixed(1)} ${(base - y(mark.y?.[i] ?? 0)).toFixed(1)}`,
                    )
                    .join("")}
                  fill="none"
                  stroke="var(--expected)"
                  strokeWidth="2"
                />
              ))}
            {label && (
              <text
                x={width - 12}
                y={base - height + 24}
                textAnchor="end"
                className="font-semibold text-[13px]"
                fill="var(--ink)"
              >
                {label}
              </text>
            )}
            {row < rows - 1 && <line x1={left} x2={width - 10} y1={base} y2={base} stroke="var(--muted)" />}
          </g>
        );
      })}
      <AxisView scale={x} y={rows * height} unit={figure.axis.unit} count={6} />
      {figure.handles.map((handle) => (
        <Grip key={handle.id} handle={handle} x={x} base={rows * height} onMove={onMove}>
          {(at) => (
            <>
              <line
                x1={x(at)}
                x2={x(at)}
                y1={rows * height}
                y2={22}
                stroke="var(--color-primary)"
                strokeDasharray="2 4"
              />
              <circle
                cx={x(at)}
                cy={18}
                r="4.5"
                fill="var(--color-base-100)"
                stroke="var(--color-primary)"
                strokeWidth="2"
              />
            </>
          )}
        </Grip>
      ))}
    </>
  );
}
