import { useRef } from "react";
import type { Figure, Form, Role } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { useSolution } from "../blocks/solution";
import { copyFigurePNG, copyFigureSVG } from "../lib/copy";
import { BoxesFigure, boxesHeight } from "./BoxesFigure";
import { CurveFigure } from "./CurveFigure";
import { IntervalsFigure, intervalsHeight } from "./IntervalsFigure";

interface Props {
  figure: Figure;
  width: number;
  roles?: Role[];
}

/** Where the ways to copy stand: in a corner that the form leaves empty. */
const places: Record<Form, string> = {
  curve: "absolute top-0 left-0",
  boxes: "absolute bottom-0 left-0",
  intervals: "justify-end",
};

/** FigureView draws a figure of any form, with its text alternative and ways to copy it. */
export function FigureView({ figure, width, roles }: Props) {
  const { open, chosen, choose, change } = useSolution();
  const svg = useRef<SVGSVGElement>(null);
  const height = { curve: 196, boxes: boxesHeight(figure), intervals: intervalsHeight(figure) }[figure.form];
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
        {figure.form === "curve" && (
          <CurveFigure figure={figure} width={width} height={height} onOpen={open} roles={roles} />
        )}
        {figure.form === "boxes" && <BoxesFigure figure={figure} width={width} chosen={chosen} onChoose={choose} />}
        {figure.form === "intervals" && (
          <IntervalsFigure
            figure={figure}
            width={width}
            onMove={(handle, value) => change([{ pointer: handle.pointer, value }], handle.label)}
          />
        )}
      </svg>
      <figcaption className={`screen-only flex ${places[figure.form]}`}>
        <CopyButton label={`Copy the picture “${figure.title}” as SVG`} words="SVG" copy={copy(copyFigureSVG)} />
        <CopyButton label={`Copy the picture “${figure.title}” as PNG`} words="PNG" copy={copy(copyFigurePNG)} />
      </figcaption>
    </figure>
  );
}
