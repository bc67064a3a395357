import { scaleLinear } from "d3-scale";
import { useId } from "react";
import type { Figure, Handle, Mark } from "../api/types";
import { lineAt, residualWords } from "../lib/line";
import { useChosen } from "../solution/chosen";
import { AxisView } from "./Axis";
import { Grip } from "./Grip";
import { nameOfCase, present, tick, tickRoom } from "./marks";

interface Props {
  figure: Figure;
  width: number;
  height: number;
  onMove: (handle: Handle, value: number) => void;
}

/**
 * ScatterFigure has a dot for each case over two axes of values, and where there is a fit its
 * line, its bands and what it predicts. A chosen case shows how far it lies from the line.
 */
export function ScatterFigure({ figure, width, height, onMove }: Props) {
  const { chosen, choose } = useChosen();
  const base = height - 40;
  const y = scaleLinear([figure.up?.min ?? 0, figure.up?.max ?? 1], [base, 22]);
  const lines = height < 200 ? 3 : 5;
  const format = y.tickFormat(lines);
  const left = tickRoom(y.ticks(lines).map((value) => tick(format(value))));
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 10]);
  const pointsOf = (mark: Mark) => (mark.x ?? []).map((at, i) => `${x(at ?? 0)},${y(mark.y?.[i] ?? 0)}`).join(" ");
  const fitted = figure.marks.find((mark) => mark.shape === "line" && mark.role === "statistic");
  const crowd = figure.marks.find((mark) => mark.shape === "points");
  const prediction = figure.marks.find((mark) => mark.shape === "interval");
  const handle = figure.handles[0];
  const clip = `seen${useId().replaceAll(":", "")}`;
  const [low = 0, high = 1] = figure.seen ? present(figure.seen) : x.domain();
  const first = fitted?.x?.[0] ?? low;
  const last = fitted?.x?.at(-1) ?? high;
  const many = (crowd?.x?.length ?? 0) > 800;
  // At most a few: with more the picture would be all words.
  const residuals = (crowd?.case ?? [])
    .map((number, i) => ({ number, at: crowd?.x?.[i] ?? 0, up: crowd?.y?.[i] ?? 0 }))
    .filter(({ number }) => chosen.has(number))
    .slice(0, 5)
    .map(({ number, at, up }) => {
      const expected = fitted ? lineAt(fitted, at) : up;
      const left = x(at) > width / 2;
      return (
        <g key={number}>
          <line
            x1={x(at)}
            x2={x(at)}
            y1={y(up)}
            y2={y(expected)}
            stroke="var(--color-primary)"
            strokeWidth="2"
            strokeLinecap="round"
          />
          <text
            x={x(at) + (left ? -7 : 7)}
            y={(y(up) + y(expected)) / 2 + 4}
            textAnchor={left ? "end" : "start"}
            className="text-[12px]"
            fill="var(--ink)"
            paintOrder="stroke"
            stroke="var(--color-base-100)"
            strokeWidth="3"
          >
            {residualWords(up - expected, figure.up?.unit)}
          </text>
        </g>
      );
    });
  return (
    <>
      <text x={4} y={12} className="text-[12px]" fill="var(--ink)">
        {figure.up?.label}
        {figure.up?.unit && ` (${figure.up.unit})`}
      </text>
      <g className="text-[11px]" fill="var(--muted)">
        {y.ticks(lines).map((value) => (
          <g key={value}>
            <line x1={left} x2={width - 10} y1={y(value)} y2={y(value)} stroke="var(--color-base-300)" />
            <text x={left - 6} y={y(value) + 4} textAnchor="end">
              {tick(format(value))}
            </text>
          </g>
        ))}
      </g>
      {first < low && <Unseen from={left} to={x(low)} top={22} base={base} />}
      {last > high && <Unseen from={x(high)} to={width - 10} top={22} base={base} />}
      {figure.marks
        .filter((mark) => mark.shape === "area")
        .map((mark) => (
          <polygon key={mark.label} points={pointsOf(mark)} fill="var(--expected)" fillOpacity="0.13" stroke="none" />
        ))}
      {figure.marks
        .filter((mark) => mark.shape === "line" && mark !== fitted)
        .map((mark) => (
          <Guide key={mark.label ?? mark.role} mark={mark} points={pointsOf(mark)} x={x} y={y} />
        ))}
      {fitted && (
        <>
          <polyline points={pointsOf(fitted)} fill="none" stroke="var(--ink)" strokeWidth="2" strokeDasharray="3 4" />
          <clipPath id={clip}>
            <rect x={x(low)} y="0" width={x(high) - x(low)} height={height} />
          </clipPath>
          <polyline
            points={pointsOf(fitted)}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="2"
            clipPath={`url(#${clip})`}
          />
        </>
      )}
      {fitted && crowd && residuals}
      {figure.marks
        .filter((mark) => mark.shape === "points")
        .map((mark) =>
          (mark.x ?? []).map((at, i) => {
            const up = mark.y?.[i];
            const number = mark.case?.[i] ?? i;
            if (at === null || up === null || up === undefined) return null;
            const lit = chosen.has(number);
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: the same case is chosen by key in the table
              <circle
                key={number}
                cx={x(at)}
                cy={y(up)}
                r={lit ? 4.5 : many ? 1.8 : 2.6}
                fill={lit ? "var(--color-primary)" : "var(--ink)"}
                fillOpacity={lit ? 1 : many ? 0.25 : 0.62}
                className="cursor-pointer"
                onClick={() => choose([number])}
              >
                <title>{nameOfCase(number, at, up)}</title>
              </circle>
            );
          }),
        )}
      {prediction && <Prediction mark={prediction} x={x} y={y} />}
      {handle && (
        <Grip handle={handle} x={x} base={base} onMove={onMove}>
          {(at) => (
            <>
              <line x1={x(at)} x2={x(at)} y1={30} y2={base} stroke="var(--color-primary)" strokeDasharray="2 4" />
              <circle
                cx={x(at)}
                cy={27}
                r="5"
                fill="var(--color-base-100)"
                stroke="var(--color-primary)"
                strokeWidth="2.2"
              />
              {(at < low || at > high) && (
                <text
                  x={x(at) + (at > high ? -10 : 10)}
                  y={18}
                  textAnchor={at > high ? "end" : "start"}
                  className="text-[12px]"
                  fill="var(--region-text)"
                >
                  outside what was observed
                </text>
              )}
            </>
          )}
        </Grip>
      )}
      <AxisView scale={x} y={base} count={width < 300 ? 3 : 6} />
      <text x={width - 10} y={height - 6} textAnchor="end" className="text-[12px]" fill="var(--ink)">
        {figure.axis.label}
        {figure.axis.unit && ` (${figure.axis.unit})`}
      </text>
    </>
  );
}

/** Guide is a dashed line with which the cases are compared, and its name where it has one. */
function Guide({ mark, points, x, y }: { mark: Mark; points: string } & Scales) {
  const upright = mark.x?.[0] === mark.x?.at(-1);
  const [atX, atY] = [x(mark.x?.at(-1) ?? 0), y(mark.y?.at(-1) ?? 0)];
  return (
    <>
      <polyline points={points} fill="none" stroke="var(--expected)" strokeWidth="1.5" strokeDasharray="5 4" />
      {mark.label && (
        <text
          x={upright ? atX - 5 : atX}
          y={upright ? atY + 10 : atY - 5}
          textAnchor="end"
          className="text-[11px]"
          fill="var(--expected-text)"
          paintOrder="stroke"
          stroke="var(--color-base-100)"
          strokeWidth="3"
        >
          {mark.label}
        </text>
      )}
    </>
  );
}

/** Unseen is a part of the axis where no case was observed. */
function Unseen({ from, to, top, base }: { from: number; to: number; top: number; base: number }) {
  return (
    <g>
      <rect x={from} y={top} width={to - from} height={base - top} fill="var(--color-base-200)" />
      {to - from > 62 && (
        <text x={(from + to) / 2} y={base - 8} textAnchor="middle" className="text-[11px]" fill="var(--muted)">
          no cases here
        </text>
      )}
    </g>
  );
}

interface Scales {
  x: (v: number) => number;
  y: (v: number) => number;
}

/** Prediction is what the line gives at a place, with the interval of a new case. */
function Prediction({ mark, x, y }: { mark: Mark } & Scales) {
  const at = x(present(mark.x)[0] ?? 0);
  const [low = 0, fitted = 0, high = 0] = present(mark.y).map(y);
  return (
    <g stroke="var(--color-primary)" strokeWidth="2.2" pointerEvents="none">
      <line x1={at} x2={at} y1={low} y2={high} />
      <line x1={at - 6} x2={at + 6} y1={low} y2={low} />
      <line x1={at - 6} x2={at + 6} y1={high} y2={high} />
      <circle cx={at} cy={fitted} r="4.5" fill="var(--color-primary)" stroke="none" />
    </g>
  );
}
