import { scaleLinear } from "d3-scale";
import { useRef, useState } from "react";
import type { Figure, Handle, Mark } from "../api/types";
import { AxisView } from "./Axis";
import { Dots } from "./Dots";
import { labelRoom, shortened, tick } from "./marks";

interface Props {
  figure: Figure;
  width: number;
  onMove: (handle: Handle, value: number) => void;
  chosen: ReadonlySet<number>;
  onChoose: (cases: number[]) => void;
}

const rowHeight = 34;

/** intervalsHeight is the height that the rows of a figure need. */
export function intervalsHeight(figure: Figure): number {
  return rowHeight * figure.marks.filter((mark) => mark.shape === "interval").length + 40 + casesRoom(figure);
}

/** casesRoom is the height that the cases take under the intervals. */
const casesRoom = (figure: Figure): number => (figure.marks.some((mark) => mark.shape === "points") ? 30 : 0);

/**
 * IntervalsFigure has a row for each interval: a dot, and a bar that ends in a
 * stroke, or in an arrow where it is open. What H₀ states is an ochre line, which
 * can be moved where the figure has a handle for it.
 */
export function IntervalsFigure({ figure, width, onMove, chosen, onChoose }: Props) {
  const rows = figure.marks.filter((mark) => mark.shape === "interval");
  const labelled = rows.some((row) => row.label);
  const left = labelled ? labelRoom(rows.map((row) => row.label)) : 14;
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 14]);
  const base = rowHeight * rows.length + 14 + casesRoom(figure);
  return (
    <>
      <AxisView scale={x} y={base} unit={figure.axis.unit} count={5} />
      {rows.map((mark) => (
        <Bar key={mark.label ?? "interval"} mark={mark} x={x} left={left} y={rowHeight * (mark.row ?? 0) + 28} />
      ))}
      {figure.marks
        .filter((mark) => mark.shape === "points")
        .map((mark) => (
          <Dots key="cases" mark={mark} x={x} y={rowHeight * rows.length + 12} chosen={chosen} onChoose={onChoose} />
        ))}
      {figure.marks
        .filter((mark) => mark.role === "expected" && mark.shape === "rule")
        .map((mark) => (
          <NullRule key={mark.label} mark={mark} x={x} base={base} handle={figure.handles[0]} onMove={onMove} />
        ))}
    </>
  );
}

function Bar({ mark, x, y, left }: { mark: Mark; x: (v: number) => number; y: number; left: number }) {
  const [low = null, point = null, high = null] = mark.x ?? [];
  const ends = [low, high].map((end) => (end === null ? null : x(end)));
  const from = ends[0] ?? 6;
  const to = ends[1] ?? x(point ?? 0) + 400;
  return (
    <g stroke="var(--ink)">
      {mark.label && (
        <text
          x={left - 14}
          y={y + 4}
          textAnchor="end"
          className="font-semibold text-[13px]"
          fill="var(--ink)"
          stroke="none"
        >
          {shortened(mark.label)}
        </text>
      )}
      <line x1={from} x2={to} y1={y} y2={y} strokeWidth="2.6" />
      {ends.map((end, i) =>
        end === null ? null : (
          <line key={i === 0 ? "low" : "high"} x1={end} x2={end} y1={y - 6} y2={y + 6} strokeWidth="2" />
        ),
      )}
      {ends[0] === null && <path d={`M 12 ${y - 5} L 4 ${y} L 12 ${y + 5}`} fill="none" strokeWidth="2" />}
      {point !== null && <circle cx={x(point)} cy={y} r="5" fill="var(--ink)" stroke="none" />}
    </g>
  );
}

interface RuleProps {
  mark: Mark;
  x: ReturnType<typeof scaleLinear<number, number>>;
  base: number;
  handle?: Handle;
  onMove: Props["onMove"];
}

/** NullRule follows the pointer while it is dragged and acts when it is let go. */
function NullRule({ mark, x, base, handle, onMove }: RuleProps) {
  const at = mark.x?.[0] ?? 0;
  const [dragged, setDragged] = useState<number | null>(null);
  const group = useRef<SVGGElement>(null);
  const value = dragged ?? at;
  const step = handle?.step ?? 1;
  const snapped = (v: number) => {
    const low = handle?.min ?? v;
    const high = handle?.max ?? v;
    return Number((Math.round(Math.min(high, Math.max(low, v)) / step) * step).toPrecision(12));
  };
  const fromPointer = (event: React.PointerEvent) => {
    const svg = group.current?.ownerSVGElement;
    if (!svg) return value;
    const box = svg.getBoundingClientRect();
    return snapped(x.invert(((event.clientX - box.left) / box.width) * svg.viewBox.baseVal.width));
  };
  const line = (
    <>
      <line
        x1={x(value)}
        x2={x(value)}
        y1={base}
        y2={8}
        stroke="var(--expected)"
        strokeWidth="2.2"
        strokeDasharray="4 3"
      />
      {handle && (
        <circle cx={x(value)} cy={8} r="5" fill="var(--color-base-100)" stroke="var(--expected)" strokeWidth="2.2" />
      )}
    </>
  );
  if (!handle) return <g>{line}</g>;
  return (
    <g
      ref={group}
      className="cursor-ew-resize touch-none"
      role="slider"
      tabIndex={0}
      aria-label={handle.label}
      aria-valuemin={handle.min ?? undefined}
      aria-valuemax={handle.max ?? undefined}
      aria-valuenow={value}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setDragged(fromPointer(event));
      }}
      onPointerMove={(event) => dragged !== null && setDragged(fromPointer(event))}
      onPointerUp={() => {
        if (dragged !== null && dragged !== at) onMove(handle, dragged);
        setDragged(null);
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(handle, snapped(at + by * step));
      }}
    >
      <rect x={x(value) - 12} y="0" width="24" height={base} fill="transparent" />
      {line}
      {dragged !== null && (
        <text x={x(value)} y={base - 4} textAnchor="middle" className="text-[12px]" fill="var(--expected-text)">
          {tick(String(dragged))}
        </text>
      )}
    </g>
  );
}
