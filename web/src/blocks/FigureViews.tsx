import type { View } from "../api/types";
import { FigureView } from "../figures/FigureView";
import { useRemembered } from "../lib/remembered";
import { useFigureUnits } from "../solution/projected";
import { findFigure, useSolution } from "../solution/solution";
import { Switch } from "./Switch";

/** FigureViews shows one of several pictures of the same cases; which one is remembered. */
export function FigureViews({ views }: { views: View[] }) {
  const { solution } = useSolution();
  const units = useFigureUnits();
  const [label, setLabel] = useRemembered("view", views[0]?.label ?? "");
  const view = views.find((each) => each.label === label) ?? views[0];
  const figure = view && findFigure(solution, view.figure);
  if (!figure) return null;
  return (
    <>
      <Switch label="Which picture" choices={views.map((each) => each.label)} chosen={view.label} onChoose={setLabel} />
      <FigureView figure={figure} width={units ?? 470} />
      <p className="mt-1 text-muted">{view.says}</p>
    </>
  );
}
