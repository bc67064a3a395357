import { useState } from "react";
import type { Figure } from "../api/types";
import { FigureView } from "./FigureView";
import { firstRows, rowsOf } from "./rows";

/** So many intervals are shown at first where there are more than a fold holds. */
const atFirst = 16;
const folds = 24;

/** LongFigure shows a figure; of very many intervals the first ones, and all on demand. */
export function LongFigure({ figure, width }: { figure: Figure; width: number }) {
  const [whole, setWhole] = useState(false);
  const rows = rowsOf(figure);
  if (figure.form !== "intervals" || rows <= folds) return <FigureView figure={figure} width={width} />;
  return (
    <>
      <FigureView figure={whole ? figure : firstRows(figure, atFirst)} width={width} />
      <button type="button" className="act screen-only" aria-expanded={whole} onClick={() => setWhole(!whole)}>
        {whole ? `The first ${atFirst} intervals only` : `All ${rows} intervals`}
      </button>
    </>
  );
}
