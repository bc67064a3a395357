import { scaleLinear } from "d3-scale";
import type { Figure, Mark } from "../api/types";
import { leanFill, leanMark } from "../lib/lean";
import { fixed } from "../lib/number";
import { AxisView } from "./Axis";
import { labelRoom, present, shortened } from "./marks";

/** Between strips, and between the parts of one. */
const gap = 3;
const letter = 6.6;
const line = 15;

/** An outline in the ground's colour, so that no line runs through a word. */
const halo = { paintOrder: "stroke", stroke: "var(--sheet)", strokeWidth: 3 } as const;

const partsOf = (figure: Figure): Mark[] => figure.marks.filter((mark) => mark.shape === "bar");
const rowsOf = (figure: Figure): number => new Set(partsOf(figure).map((mark) => mark.row ?? 0)).size;

/** mosaicHeight gives all strips together enough height for the names of most of them. */
export const mosaicHeight = (figure: Figure): number =>
  44 + 2 * line + Math.min(520, Math.max(200, rowsOf(figure) * 46));

interface Heading {
  name: string;
  words: string;
  x: number;
  row: number;
}

/**
 * headings writes the names of parts over where they end, in one line or, where one is too
 * long for its part, in two lines in turn, cut to the room that leaves.
 */
function headings(names: string[], ends: number[]): Heading[] {
  const widthOf = (i: number) => (ends[i + 1] ?? ends[i] ?? 0) - (ends[i] ?? 0);
  const fits = names.every((name, i) => name.length * letter < widthOf(i) - 4);
  return names.map((name, i) => {
    const beside = Math.min(widthOf(i - 1) || widthOf(i), widthOf(i + 1) || widthOf(i));
    const letters = Math.floor((widthOf(i) + (fits ? 0 : beside)) / letter) - 1;
    const words = name.length <= letters ? name : letters < 2 ? "" : `${name.slice(0, letters - 1)}…`;
    return { name, words, x: (ends[i] ?? 0) + widthOf(i) / 2, row: fits ? 0 : i % 2 };
  });
}

/**
 * MosaicFigure draws a two-way table with areas as shares: strips as thick as a row's
 * share of all cases, parted by the shares within the row. Lines across show where
 * independence would part them all.
 */
export function MosaicFigure({ figure, width }: { figure: Figure; width: number }) {
  const parts = partsOf(figure);
  const series = figure.series ?? [];
  const left = labelRoom(parts.map((mark) => mark.label));
  const x = scaleLinear([0, 100], [left, width - 12]);
  const bottom = mosaicHeight(figure) - 30;
  const ends = figure.marks.filter((mark) => mark.shape === "rule").map((mark) => x(present(mark.x)[0] ?? 0));
  const heads = headings(series, [x(0), ...ends, x(100)]);
  const top = 4 + line * (1 + Math.max(...heads.map((head) => head.row)));
  const y = scaleLinear([0, 100], [top, bottom]);
  const strips = new Map(parts.map((mark) => [mark.row ?? 0, mark]));
  const pairOf = (xs: (number | null)[] | undefined): [number, number] => {
    const [from = 0, to = 0] = present(xs);
    return [from, to];
  };
  const leftOf = (mark: Mark) => x(pairOf(mark.x)[0]);
  const topOf = (mark: Mark) => y(pairOf(mark.y)[0]);
  const shareOf = (mark: Mark) => pairOf(mark.x)[1] - pairOf(mark.x)[0];
  const sizeOf = (mark: Mark): [number, number] => [
    Math.max(0.5, x(pairOf(mark.x)[1]) - leftOf(mark) - gap),
    Math.max(0.5, y(pairOf(mark.y)[1]) - topOf(mark) - gap),
  ];
  return (
    <>
      {[...strips].map(([row, mark]) => {
        const [from = 0, to = 0] = present(mark.y);
        // A strip thinner than its name goes without: it has a title all the same.
        return y(to) - y(from) < 12 ? null : (
          <text
            key={row}
            x={left - 10}
            y={(y(from) + y(to)) / 2 + 4.5}
            textAnchor="end"
            className="font-semibold text-[13px]"
            fill="var(--ink)"
          >
            {shortened(mark.label ?? "")}
            <title>{mark.label}</title>
          </text>
        );
      })}
      {heads.map((head) => (
        <text
          key={head.name}
          x={head.x}
          y={10 + head.row * line}
          textAnchor="middle"
          className="text-[12px]"
          fill="var(--expected-text)"
        >
          {head.words}
          <title>{head.name}</title>
        </text>
      ))}
      {parts.map((mark) => {
        const [w, h] = sizeOf(mark);
        const fill = leanFill(mark.lean ?? 0);
        return (
          <g key={`${mark.row}/${mark.part}`}>
            <rect x={leftOf(mark)} y={topOf(mark)} width={w} height={h} fill="var(--sheet)" />
            <rect
              x={leftOf(mark)}
              y={topOf(mark)}
              width={w}
              height={h}
              fill={fill?.ink ?? "none"}
              fillOpacity={fill?.opacity}
              stroke="var(--ink)"
              strokeWidth="0.9"
            >
              <title>{`${mark.label}, ${series[mark.part ?? 0]}: ${fixed(shareOf(mark), 1)} % of the row`}</title>
            </rect>
          </g>
        );
      })}
      {ends.map((at) => (
        <line
          key={at}
          x1={at - gap / 2}
          x2={at - gap / 2}
          y1={top - 4}
          y2={bottom}
          stroke="var(--expected)"
          strokeWidth="1.6"
          strokeDasharray="5 4"
          pointerEvents="none"
        />
      ))}
      {parts.map((mark) => {
        const [w, h] = sizeOf(mark);
        const sign = leanMark(mark.lean ?? 0);
        const share = `${fixed(shareOf(mark), 0)} %`;
        const room = w - 10 - (sign ? 14 : 0);
        const words = [`${shortened(series[mark.part ?? 0] ?? "")} ${share}`, share].find(
          (text) => text.length * letter <= room,
        );
        const baseline = topOf(mark) + Math.min(h / 2 + 4.5, line);
        return h < 14 ? null : (
          <g key={`${mark.row}/${mark.part}`} fill="var(--ink)" pointerEvents="none" {...halo}>
            {sign && w >= 16 && (
              <text x={leftOf(mark) + 5} y={baseline} className="text-[11px]">
                {sign}
              </text>
            )}
            {words && (
              <text x={leftOf(mark) + 6 + (sign ? 14 : 0)} y={baseline} className="text-[12px]">
                {words}
              </text>
            )}
          </g>
        );
      })}
      <AxisView scale={x} y={bottom + 2} unit={figure.axis.unit} count={5} />
    </>
  );
}
