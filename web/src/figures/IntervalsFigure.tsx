import { scaleLinear } from "d3-scale";
import type { Figure, Handle, Mark } from "../api/types";
import { useChosen } from "../solution/chosen";
import { AxisView } from "./Axis";
import { Dots } from "./Dots";
import { Grip } from "./Grip";
import { labelRoom, shortened } from "./marks";

interface Props {
  figure: Figure;
  width: number;
  onMove: (handle: Handle, value: number) => void;
}

const rowsOf = (figure: Figure): Mark[] => figure.marks.filter((mark) => mark.shape === "interval");

/** byRow reports whether each row has cases of its own; otherwise all lie under the intervals. */
const byRow = (figure: Figure): boolean =>
  figure.marks.filter((mark) => mark.shape === "points").length > 1 && rowsOf(figure).length > 1;

/** rowHeight is less where there are many rows, more where each has its cases. */
function rowHeight(figure: Figure): number {
  if (byRow(figure)) return 58;
  return rowsOf(figure).length > 12 ? 22 : 34;
}

/** intervalsHeight is the height that the rows of a figure need. */
export function intervalsHeight(figure: Figure): number {
  return rowHeight(figure) * rowsOf(figure).length + 40 + casesRoom(figure);
}

/** casesRoom is the height that the cases take under all the intervals. */
const casesRoom = (figure: Figure): number =>
  figure.marks.some((mark) => mark.shape === "points") && !byRow(figure) ? 30 : 0;

/**
 * IntervalsFigure has a row for each interval: a dot, and a bar that ends in a
 * stroke, or in an arrow where it is open. What H₀ states is an ochre line, which
 * can be moved where the figure has a handle for it.
 */
export function IntervalsFigure({ figure, width, onMove }: Props) {
  const { chosen, choose } = useChosen();
  const rows = rowsOf(figure);
  const height = rowHeight(figure);
  const labelled = rows.some((row) => row.label);
  const left = labelled ? labelRoom(rows.map((row) => row.label)) : 14;
  const x = scaleLinear([figure.axis.min ?? 0, figure.axis.max ?? 1], [left, width - 14]);
  const base = height * rows.length + 14 + casesRoom(figure);
  return (
    <>
      <AxisView scale={x} y={base} unit={figure.axis.unit} count={5} />
      {rows.map((mark) => (
        <Bar
          key={mark.label ?? "interval"}
          mark={mark}
          x={x}
          left={left}
          right={width - 14}
          y={height * (mark.row ?? 0) + Math.min(28, height / 2 + 11)}
        />
      ))}
      {figure.marks
        .filter((mark) => mark.shape === "points")
        .map((mark) => (
          <Dots
            key={mark.row ?? 0}
            mark={mark}
            x={x}
            y={byRow(figure) ? height * (mark.row ?? 0) + 46 : height * rows.length + 12}
            chosen={chosen}
            onChoose={choose}
          />
        ))}
      {figure.marks
        .filter((mark) => mark.role === "expected" && mark.shape === "rule")
        .map((mark) => (
          <NullRule key={mark.label} mark={mark} x={x} base={base} handle={figure.handles[0]} onMove={onMove} />
        ))}
    </>
  );
}

interface BarProps {
  mark: Mark;
  x: (v: number) => number;
  /** Where the axis begins and ends. */
  left: number;
  right: number;
  y: number;
}

function Bar({ mark, x, left, right, y }: BarProps) {
  const [low = null, point = null, high = null] = mark.x ?? [];
  const ends = [low, high].map((end) => (end === null ? null : x(end)));
  const from = ends[0] ?? left - 8;
  const to = ends[1] ?? right + 8;
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
      {ends[0] === null && <Arrow at={from} y={y} towards={-1} />}
      {ends[1] === null && <Arrow at={to} y={y} towards={1} />}
      {point !== null && <circle cx={x(point)} cy={y} r="5" fill="var(--ink)" stroke="none" />}
    </g>
  );
}

/** Arrow says that an interval goes on. */
function Arrow({ at, y, towards }: { at: number; y: number; towards: 1 | -1 }) {
  const back = at - towards * 8;
  return <path d={`M ${back} ${y - 5} L ${at} ${y} L ${back} ${y + 5}`} fill="none" strokeWidth="2" />;
}

interface RuleProps {
  mark: Mark;
  x: ReturnType<typeof scaleLinear<number, number>>;
  base: number;
  handle?: Handle;
  onMove: Props["onMove"];
}

/** NullRule is the value that H₀ states, which may be moved. */
function NullRule({ mark, x, base, handle, onMove }: RuleProps) {
  const line = (at: number) => (
    <>
      <line x1={x(at)} x2={x(at)} y1={base} y2={8} stroke="var(--expected)" strokeWidth="2.2" strokeDasharray="4 3" />
      {handle && (
        <circle cx={x(at)} cy={8} r="5" fill="var(--color-base-100)" stroke="var(--expected)" strokeWidth="2.2" />
      )}
    </>
  );
  if (!handle) return <g>{line(mark.x?.[0] ?? 0)}</g>;
  return (
    <Grip handle={handle} x={x} base={base} onMove={onMove}>
      {line}
    </Grip>
  );
}
