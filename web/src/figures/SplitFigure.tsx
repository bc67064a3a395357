import { scaleLinear } from "d3-scale";
import type { Figure, Mark } from "../api/types";
import { useChosen } from "../solution/chosen";
import { AxisView } from "./Axis";
import { labelRoom, nameOfCase, present, shortened } from "./marks";

interface Props {
  figure: Figure;
  width: number;
}

/** The side of the square that is the sum of squares in all. */
const side = 128;
const gap = 34;
/** From so many cases of a group on their distances are too many to be drawn. */
const mostLines = 80;

const meansOf = (figure: Figure): Mark[] => figure.marks.filter((mark) => mark.role === "mean");
const rowHeight = (figure: Figure): number => (meansOf(figure).length > 6 ? 34 : 48);

/** splitHeight is the height that the rows and the squares under them need. */
export const splitHeight = (figure: Figure): number => 18 + rowHeight(figure) * meansOf(figure).length + 34 + side + 26;

/**
 * SplitFigure draws each case as its distance from the mean of its group, each mean as its
 * distance from the mean of all, and the sums of squares as squares of that area, with a
 * strip for each group.
 */
export function SplitFigure({ figure, width }: Props) {
  const { chosen, choose } = useChosen();
  const means = meansOf(figure);
  const left = labelRoom(means.map((mark) => mark.label));
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 12]);
  const height = rowHeight(figure);
  const base = 18 + height * means.length;
  const all = figure.marks.find((mark) => mark.shape === "rule");
  const grand = x(present(all?.x)[0] ?? 0);
  const of = (shape: Mark["shape"], row: number) =>
    figure.marks.find((mark) => mark.shape === shape && (mark.row ?? 0) === row);
  return (
    <>
      {means.map((mark) => {
        const row = mark.row ?? 0;
        const top = 18 + row * height;
        const middle = top + height / 2 - 2;
        const mean = x(present(mark.x)[1] ?? 0);
        const points = of("points", row);
        const spread = of("interval", row);
        return (
          <g key={row}>
            <text
              x={left - 12}
              y={middle + 4.5}
              textAnchor="end"
              className="font-semibold text-[13px]"
              fill="var(--ink)"
            >
              {shortened(mark.label ?? "")}
              <title>{mark.label}</title>
            </text>
            <rect
              x={Math.min(grand, mean)}
              y={middle - 4.5}
              width={Math.abs(mean - grand)}
              height="9"
              fill="var(--color-primary)"
              fillOpacity="0.55"
            />
            {points && (
              <Cases
                mark={points}
                x={x}
                mean={mean}
                top={top + 3}
                height={height - 10}
                chosen={chosen}
                onChoose={choose}
              />
            )}
            {spread && (
              <line
                x1={x(present(spread.x)[0] ?? 0)}
                x2={x(present(spread.x)[2] ?? 0)}
                y1={middle}
                y2={middle}
                stroke="var(--ink)"
                strokeWidth="1.4"
              />
            )}
            <line x1={mean} x2={mean} y1={top} y2={top + height - 4} stroke="var(--ink)" strokeWidth="2.6" />
          </g>
        );
      })}
      <line
        x1={grand}
        x2={grand}
        y1={14}
        y2={base}
        stroke="var(--expected)"
        strokeWidth="2"
        strokeDasharray="5 4"
        pointerEvents="none"
      />
      <text x={grand} y={10} textAnchor="middle" className="text-[11px]" fill="var(--expected-text)">
        {all?.label}
      </text>
      <AxisView scale={x} y={base} unit={figure.axis.unit} count={5} />
      <Squares figure={figure} width={width} top={base + 34} />
    </>
  );
}

interface CasesProps {
  mark: Mark;
  x: (v: number) => number;
  mean: number;
  top: number;
  height: number;
  chosen: ReadonlySet<number>;
  onChoose: (cases: number[]) => void;
}

/** Cases lie one under the other in their order, each with its distance from the mean of its group. */
function Cases({ mark, x, mean, top, height, chosen, onChoose }: CasesProps) {
  const cases = present(mark.x)
    .map((value, i) => ({ value, number: mark.case?.[i] ?? 0 }))
    .sort((a, b) => a.value - b.value);
  const step = height / Math.max(1, cases.length - 1);
  return cases.map(({ value, number }, i) => {
    const at = x(value);
    const y = cases.length === 1 ? top + height / 2 : top + i * step;
    const lit = chosen.has(number);
    return (
      // biome-ignore lint/a11y/noStaticElementInteractions: the same case is chosen by key in the table
      <g key={number} onClick={() => onChoose([number])}>
        {cases.length <= mostLines && (
          <line
            x1={at}
            x2={mean}
            y1={y}
            y2={y}
            stroke={lit ? "var(--color-primary)" : "var(--ink)"}
            strokeOpacity={lit ? 1 : 0.5}
            strokeWidth={lit ? 1.6 : 0.8}
          />
        )}
        <circle
          cx={at}
          cy={y}
          r={lit ? 4 : 2.1}
          fill={lit ? "var(--color-primary)" : "var(--ink)"}
          fillOpacity={cases.length > mostLines ? 0.35 : 1}
        />
        <title>{nameOfCase(number, value)}</title>
      </g>
    );
  });
}

/** Squares have the sums of squares as their areas; strips are what each group gives. */
function Squares({ figure, width, top }: { figure: Figure; width: number; top: number }) {
  const bars = figure.marks.filter((mark) => mark.shape === "bar");
  const parts = [0, 1].map((part) => bars.filter((mark) => (mark.part ?? 0) === part));
  const amountOf = (mark: Mark) => present(mark.x)[0] ?? 0;
  const sums = parts.map((marks) => marks.reduce((sum, mark) => sum + amountOf(mark), 0));
  const total = (sums[0] ?? 0) + (sums[1] ?? 0);
  const sides = [...sums.map((sum) => side * Math.sqrt(total > 0 ? sum / total : 0)), side];
  const whole = sides.reduce((sum, each) => sum + each, 0) + 2 * gap;
  let at = Math.max(8, (width - whole) / 2);
  return sides.map((size, i) => {
    const start = at;
    at += size + gap;
    const fill = i === 0 ? "var(--color-primary)" : "var(--ink)";
    let y = top + side - size;
    return (
      <g key={figure.series?.[i] ?? start}>
        {i < 2 ? (
          (parts[i] ?? []).map((mark) => {
            const high = sums[i] ? (size * amountOf(mark)) / (sums[i] ?? 1) : 0;
            const from = y;
            y += high;
            const room = (mark.label?.length ?? 0) * 6.3 + 8 <= size && high >= 13;
            return (
              <g key={mark.row ?? 0}>
                <rect
                  x={start}
                  y={from}
                  width={size}
                  height={high}
                  fill={fill}
                  fillOpacity={i === 0 ? 0.55 : 0.16}
                  stroke="var(--ink)"
                  strokeWidth="0.9"
                >
                  <title>{`${mark.label}: ${amountOf(mark)}`}</title>
                </rect>
                {room && (
                  <text
                    x={start + size / 2}
                    y={from + high / 2 + 4}
                    textAnchor="middle"
                    className="text-[11px]"
                    fill="var(--ink)"
                    pointerEvents="none"
                  >
                    {mark.label}
                  </text>
                )}
              </g>
            );
          })
        ) : (
          <rect x={start} y={y} width={size} height={size} fill="none" stroke="var(--ink)" strokeWidth="1.3" />
        )}
        <text
          x={start + size / 2}
          y={top + side + 17}
          textAnchor="middle"
          className="font-semibold text-[12px]"
          fill="var(--ink)"
        >
          {figure.series?.[i]}
        </text>
        {i < 2 && (
          <text
            x={start + size + gap / 2}
            y={top + side - 14}
            textAnchor="middle"
            className="font-serif text-[20px]"
            fill="var(--muted)"
          >
            {i === 0 ? "+" : "="}
          </text>
        )}
      </g>
    );
  });
}
