import { useId, useRef, useState } from "react";
import type { Figure, Form, Handle } from "../api/types";
import { CopyMenu } from "../app/CopyMenu";
import { KeepButton } from "../kept/KeepButton";
import { columnWidth, copyFigurePNG, copyFigureSVG, copyFigureWithCaption, pageWidth } from "../lib/copy";
import { readNumber, writeNumber } from "../lib/number";
import { NoteHere } from "../notes/NoteHere";
import { useActions } from "../solution/actions";
import { useSimulating } from "../solution/simulating";
import { BarsFigure, barsHeight } from "./BarsFigure";
import { BoxesFigure, boxesHeight } from "./BoxesFigure";
import { ClassBoundaries } from "./ClassBoundaries";
import { CurveFigure } from "./CurveFigure";
import { HistogramFigure, histogramHeight } from "./HistogramFigure";
import { IntervalsFigure, intervalsHeight } from "./IntervalsFigure";
import { MosaicFigure, mosaicHeight } from "./MosaicFigure";
import { PowerFigure } from "./PowerFigure";
import { ScatterFigure } from "./ScatterFigure";
import { SplitFigure, splitHeight } from "./SplitFigure";

interface Props {
  figure: Figure;
  width: number;
  /** Takes what a handle was moved to, in the place of the problem. */
  onMove?: (handle: Handle, value: number) => void;
}

/** Where the ways to copy stand: in a corner that the form leaves empty. */
const places: Record<Form, string> = {
  curve: "absolute top-0 left-0",
  boxes: "-mt-2 justify-end",
  intervals: "items-center justify-end",
  histogram: "justify-end",
  bars: "justify-end",
  mosaic: "justify-end",
  split: "justify-end",
  scatter: "justify-end",
  power: "justify-end",
};

/** The height that a figure needs. */
function heightOf(figure: Figure, width: number): number {
  switch (figure.form) {
    case "curve":
      return 196;
    case "boxes":
      return boxesHeight(figure);
    case "intervals":
      return intervalsHeight(figure);
    case "histogram":
      return histogramHeight(figure);
    case "bars":
      return barsHeight(figure);
    case "split":
      return splitHeight(figure);
    case "mosaic":
      return mosaicHeight(figure);
    case "power":
      return Math.round(width * 0.5);
    case "scatter":
      return Math.round(width * 0.72);
  }
}

/** FigureView draws a figure of any form, with its text alternative and ways to copy it. */
export function FigureView({ figure, width, onMove }: Props) {
  const { change } = useActions();
  const svg = useRef<SVGSVGElement>(null);
  const height = heightOf(figure, width);
  const move = (handle: Handle, at: number) => {
    if (onMove) return onMove(handle, at);
    const value = handle.among ? handle.among.map((each, i) => (i === (handle.index ?? 0) ? at : each)) : at;
    change([{ pointer: handle.pointer, value }], handle.label);
  };
  const list = figure.form === "histogram" ? figure.handles.find((handle) => handle.among) : undefined;
  const copy = (how: (svg: SVGSVGElement) => Promise<void>) => () =>
    svg.current ? how(svg.current) : Promise.reject(new Error("no picture"));
  return (
    <figure className="relative">
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        className="block h-auto w-full font-sans"
        role={figure.handles.length > 0 ? "group" : "img"}
        aria-label={figure.says}
      >
        {figure.form === "curve" && <SimulatedCurve figure={figure} width={width} height={height} onMove={move} />}
        {figure.form === "boxes" && <BoxesFigure figure={figure} width={width} />}
        {figure.form === "histogram" && <HistogramFigure figure={figure} width={width} onMove={move} />}
        {figure.form === "power" && <PowerFigure figure={figure} width={width} height={height} />}
        {figure.form === "bars" && <BarsFigure figure={figure} width={width} />}
        {figure.form === "split" && <SplitFigure figure={figure} width={width} />}
        {figure.form === "mosaic" && <MosaicFigure figure={figure} width={width} />}
        {figure.form === "scatter" && <ScatterFigure figure={figure} width={width} height={height} onMove={move} />}
        {figure.form === "intervals" && <IntervalsFigure figure={figure} width={width} onMove={move} />}
      </svg>
      <NoteHere at={`figure/${figure.id}`} about={`the picture “${figure.title}”`}>
        {(note, editor) => (
          <>
            <figcaption
              className={`screen-only flex ${figure.small ? "over-picture justify-end" : places[figure.form]}`}
            >
              {list && (
                <ClassBoundaries
                  boundaries={(list.among ?? []).map((x) => x ?? 0)}
                  onSet={(value) => change([{ pointer: list.pointer, value }], "the boundaries of the classes")}
                />
              )}
              {(list || onMove ? [] : figure.handles).map((handle) => (
                <HandleValue key={handle.id} handle={handle} onMove={(value) => move(handle, value)} />
              ))}
              <CopyMenu
                label={`Copy the picture “${figure.title}”`}
                words="Copy"
                ways={[
                  {
                    words: `PNG, ${columnWidth} cm wide, a column`,
                    copy: copy((svg) => copyFigurePNG(svg, columnWidth)),
                  },
                  { words: `PNG, ${pageWidth} cm wide, a page`, copy: copy((svg) => copyFigurePNG(svg, pageWidth)) },
                  { words: "With its caption", copy: copy((svg) => copyFigureWithCaption(svg, figure.title)) },
                  { words: "SVG", copy: copy(copyFigureSVG) },
                ]}
              />
              {note}
              <KeepButton at={`figure/${figure.id}`} what={`the picture “${figure.title}”`} />
            </figcaption>
            {editor}
          </>
        )}
      </NoteHere>
      {figure.thin && <p className="text-[0.9rem] text-muted">{figure.thin}</p>}
    </figure>
  );
}

/** SimulatedCurve is the curve with what was drawn under H₀ behind it. */
function SimulatedCurve(props: Props & { height: number }) {
  const { open } = useActions();
  const simulation = useSimulating();
  return <CurveFigure {...props} onOpen={open} simulation={simulation?.state} />;
}

/** HandleValue moves a handle to a value that is typed. */
function HandleValue({ handle, onMove }: { handle: Handle; onMove: (value: number) => void }) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const value = readNumber(text ?? "");
  const wrong = text !== null && !Number.isFinite(value);
  const take = () => {
    if (text !== null && !wrong && value !== handle.at) onMove(value);
    if (!wrong) setText(null);
  };
  return (
    <span className="mr-auto flex items-center gap-2 text-muted">
      <label htmlFor={id}>{handle.label}</label>
      <input
        id={id}
        className="input input-sm w-20 bg-sheet text-ink aria-invalid:border-region"
        inputMode="decimal"
        aria-invalid={wrong}
        title={wrong ? "A number is needed here" : undefined}
        value={text ?? writeNumber(handle.at ?? 0)}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") setText(null);
        }}
      />
    </span>
  );
}
