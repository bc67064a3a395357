import { scaleLinear } from "d3-scale";
import { area, curveLinear, line } from "d3-shape";
import type { Figure, Handle, Mark, Simulation } from "../api/types";
import { AxisView } from "./Axis";
import { Grip } from "./Grip";
import { present, useHatch } from "./marks";
import { barTop, SimulatedBars } from "./SimulatedBars";

interface Props {
  figure: Figure;
  width: number;
  height: number;
  onOpen: (ref: string, at: Element) => void;
  onMove?: (handle: Handle, value: number) => void;
  /** Drawn behind the curve. */
  simulation?: Simulation | null;
}

type Point = [number, number];

function points(mark: Mark): Point[] {
  const ys = present(mark.y);
  return present(mark.x).map((x, i) => [x, ys[i] ?? 0]);
}

/** CurveFigure is a density with the rejection region, the statistic and the area that is p. */
export function CurveFigure({ figure, width, height, onOpen, onMove, simulation }: Props) {
  const { id, hatch } = useHatch();
  const { marks } = figure;
  const curve = marks.find((mark) => mark.shape === "line");
  const top = Math.max(...present(curve?.y), simulation ? barTop(simulation) : 0);
  const x = scaleLinear([figure.axis.min ?? -4, figure.axis.max ?? 4], [12, width - 12]);
  const base = height - 24;
  const y = scaleLinear([0, top], [base, 34]);
  const toLine = line<Point>(
    (p) => x(p[0]),
    (p) => y(p[1]),
  ).curve(curveLinear);
  const toArea = area<Point>(
    (p) => x(p[0]),
    base,
    (p) => y(p[1]),
  );
  const statistic = marks.find((mark) => mark.shape === "rule" && mark.role === "statistic");
  const drawn = curve ? points(curve).map(([each, height]) => ({ x: x(each), y: y(height) })) : [];
  return (
    <>
      {hatch}
      {simulation && <SimulatedBars simulation={simulation} x={x} y={y} />}
      {marks
        .filter((mark) => mark.shape === "area")
        .map((mark) => (
          <path
            key={`${mark.role}${mark.x?.[0]}`}
            d={toArea(points(mark)) ?? ""}
            fill={mark.role === "region" ? `url(#${id})` : "var(--p-area)"}
          />
        ))}
      {curve && <path d={toLine(points(curve)) ?? ""} fill="none" stroke="var(--expected)" strokeWidth="2.2" />}
      <AxisView scale={x} y={base} count={7} />
      {marks
        .filter((mark) => mark.shape === "rule" && mark.role === "region")
        .map((mark) => {
          const at = x(mark.x?.[0] ?? 0);
          const other = statistic && x(statistic.x?.[0] ?? 0);
          return (
            <g key={mark.label} className="moves">
              <line x1={at} x2={at} y1={base} y2={base - 42} stroke="var(--region)" strokeWidth="1.6" />
              <FigureNumber
                mark={mark}
                x={labelOfRule(at, other, base - 47, lettersWide * [...(mark.label ?? "")].length, width, drawn)}
                y={base - 47}
                anchor="start"
                className="fill-(--region-text) text-[12px]"
                onOpen={onOpen}
              />
            </g>
          );
        })}
      {onMove &&
        figure.handles.map((handle) => (
          <Grip key={handle.id} handle={handle} x={x} base={base} onMove={onMove}>
            {(value) => (
              <line
                x1={x(value)}
                x2={x(value)}
                y1={base}
                y2={base - 42}
                stroke="var(--region)"
                strokeWidth="2"
                strokeDasharray="5 3"
              />
            )}
          </Grip>
        ))}
      {statistic && (
        <StatisticRule mark={statistic} at={x(statistic.x?.[0] ?? 0)} base={base} width={width} onOpen={onOpen} />
      )}
    </>
  );
}

/** How wide a letter of a label is, which is 12 units high: figures are of one width. */
const lettersWide = 7.1;

/**
 * labelOfRule returns where the label of a rule begins that is so long, at that height: over the rule, or as near to it as
 * there is room beside the curve and the statistic's line.
 */
export function labelOfRule(
  rule: number,
  statistic: number | undefined,
  height: number,
  long: number,
  width: number,
  curve: readonly { x: number; y: number }[],
): number {
  const gap = 4;
  const free = (left: number): boolean => {
    const right = left + long;
    if (left < 2 || right > width - 2) return false;
    if (statistic !== undefined && statistic > left - gap && statistic < right + gap) return false;
    return !curve.some(({ x, y }) => x > left - 2 && x < right + 2 && y > height - 12 && y < height + 2);
  };
  const over = Math.max(2, Math.min(width - 2 - long, rule - long / 2));
  if (free(over)) return over;
  for (let away = gap; away < 120; away += 2) {
    const sides = [rule - away - long, rule + away];
    const found = (rule > width / 2 ? sides.reverse() : sides).find(free); // outwards first
    if (found !== undefined) return found;
  }
  return over;
}

interface RuleProps {
  mark: Mark;
  at: number;
  base: number;
  width: number;
  onOpen: Props["onOpen"];
}

/** In a picture that is narrower the curve is close to every rule. */
const narrow = 300;

function StatisticRule({ mark, at, base, width, onOpen }: RuleProps) {
  const right = at > width / 2;
  const arrow = right ? "→" : "←";
  const label = mark.beyond ? { ...mark, label: right ? `${mark.label} ${arrow}` : `${arrow} ${mark.label}` } : mark;
  // On the side of the curve that is free: outwards, unless the edge is near; in a narrow picture over the rule.
  const room = right ? width - at : at;
  const over = width < narrow && room <= 80;
  const outward = room > 80 || over;
  const anchor = outward === right ? "start" : "end";
  const beside = anchor === "start" ? at + 9 : at - 9;
  return (
    <g className="moves">
      <line x1={at} x2={at} y1={base} y2={base - 84} stroke="var(--ink)" strokeWidth="2.4" />
      <circle cx={at} cy={base - 86} r="4.5" fill="var(--ink)" />
      <FigureNumber
        mark={label}
        x={over ? (right ? width - 2 : 2) : beside}
        y={over ? base - 98 : base - 90}
        anchor={over ? (right ? "end" : "start") : anchor}
        className="font-semibold font-serif text-[15px]"
        onOpen={onOpen}
      />
    </g>
  );
}

interface NumberProps {
  mark: Mark;
  x: number;
  y: number;
  anchor: "start" | "middle" | "end";
  className: string;
  onOpen: Props["onOpen"];
}

/** FigureNumber is a number in a figure that opens by mouse; by key it opens from the text beside. */
function FigureNumber({ mark, x, y, anchor, className, onOpen }: NumberProps) {
  const ref = mark.refs?.[0];
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same number is a button in the steps
    <text
      x={x}
      y={y}
      textAnchor={anchor}
      className={`cursor-pointer ${className}`}
      fill="var(--ink)"
      stroke="var(--color-base-100)"
      strokeWidth="4"
      paintOrder="stroke"
      onClick={(event) => ref && onOpen(ref, event.currentTarget)}
    >
      {mark.label}
    </text>
  );
}
