import { scaleLinear } from "d3-scale";
import type { Figure, Mark } from "../api/types";
import { useChosen } from "../solution/chosen";
import { AxisView } from "./Axis";
import { Dots } from "./Dots";
import { labelRoom, nameOfCase, present, shortened } from "./marks";

interface Props {
  figure: Figure;
  width: number;
}

const rowHeight = 62;

/** boxesHeight is the height that the rows of a figure need. */
export function boxesHeight(figure: Figure): number {
  return rowHeight * figure.marks.filter((mark) => mark.shape === "box").length + 34;
}

/** BoxesFigure has a row for each group: its box, its mean, and every case as a dot under it. */
export function BoxesFigure({ figure, width }: Props) {
  const { chosen, choose } = useChosen();
  const rows = figure.marks.filter((mark) => mark.shape === "box");
  const left = rows.some((row) => row.label) ? labelRoom(rows.map((row) => row.label)) : 14;
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 10]);
  const base = rowHeight * rows.length + 8;
  const stated = figure.marks.find((mark) => mark.shape === "rule" && mark.role === "expected");
  return (
    <>
      {stated && <Stated mark={stated} at={x(stated.x?.[0] ?? 0)} base={base} />}
      {rows.map((box) => {
        const row = box.row ?? 0;
        const y = row * rowHeight + 18;
        const cases = figure.marks.find((m) => m.shape === "points" && m.role === "observed" && (m.row ?? 0) === row);
        const mean = figure.marks.find((m) => m.role === "mean" && (m.row ?? 0) === row);
        return (
          <g key={row}>
            <text x={left - 14} y={y + 4} textAnchor="end" className="font-semibold text-[13px]" fill="var(--ink)">
              {shortened(box.label ?? "")}
              <title>{box.label}</title>
            </text>
            <Box box={box} x={x} y={y} />
            {mean && (
              <circle
                cx={x(mean.x?.[0] ?? 0)}
                cy={y}
                r="3.4"
                fill="var(--color-base-100)"
                stroke="var(--ink)"
                strokeWidth="1.6"
              />
            )}
            {figure.marks
              .filter((m) => m.role === "outlier" && (m.row ?? 0) === row)
              .map((m) => (
                <Outliers key="outliers" mark={m} x={x} y={y} onChoose={choose} />
              ))}
            {cases && <Dots mark={cases} x={x} y={y + 18} chosen={chosen} onChoose={choose} />}
          </g>
        );
      })}
      <AxisView scale={x} y={base} unit={figure.axis.unit} count={5} />
    </>
  );
}

/** Stated is the value that H₀ states, across all rows. */
function Stated({ mark, at, base }: { mark: Mark; at: number; base: number }) {
  return (
    <g>
      <line x1={at} x2={at} y1={12} y2={base} stroke="var(--expected)" strokeWidth="1.8" strokeDasharray="4 3" />
      <text x={at} y={9} textAnchor="middle" className="text-[11px]" fill="var(--expected-text)">
        {mark.label}
      </text>
    </g>
  );
}

function Box({ box, x, y }: { box: Mark; x: (v: number) => number; y: number }) {
  const [low = 0, q1 = 0, median = 0, q3 = 0, high = 0] = present(box.x).map(x);
  return (
    <g stroke="var(--ink)" fill="none">
      <line x1={low} x2={q1} y1={y} y2={y} strokeWidth="1.3" />
      <line x1={q3} x2={high} y1={y} y2={y} strokeWidth="1.3" />
      <rect x={q1} y={y - 10} width={Math.max(1, q3 - q1)} height="20" rx="1.5" strokeWidth="1.3" />
      <line x1={median} x2={median} y1={y - 10} y2={y + 10} strokeWidth="3" />
    </g>
  );
}

interface OutliersProps {
  mark: Mark;
  x: (v: number) => number;
  y: number;
  onChoose: (cases: number[]) => void;
}

/** Outliers are rings beyond the whiskers, each with the number of its case where there is room. */
function Outliers({ mark, x, y, onChoose }: OutliersProps) {
  let last = Number.NEGATIVE_INFINITY;
  return present(mark.x)
    .map((value, i) => ({ at: x(value), value, number: mark.case?.[i] ?? 0 }))
    .sort((a, b) => a.at - b.at)
    .map(({ at, value, number }) => {
      const named = at - last > 22;
      if (named) last = at;
      return (
        // biome-ignore lint/a11y/noStaticElementInteractions: the same case is chosen by key in the table
        <g key={number} className="cursor-pointer" onClick={() => onChoose([number])}>
          <circle cx={at} cy={y} r="3.2" fill="none" stroke="var(--ink)" strokeWidth="1.3" />
          {named && (
            <text x={at} y={y - 6} textAnchor="middle" className="text-[10.5px]" fill="var(--muted)">
              {number}
            </text>
          )}
          <title>{nameOfCase(number, value)}</title>
        </g>
      );
    });
}
