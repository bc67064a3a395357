import type { Block } from "../api/types";
import { LongFigure } from "../figures/LongFigure";
import { useActions } from "../solution/actions";
import { smallUnits, useFigureUnits } from "../solution/projected";
import { findFigure, useSolution } from "../solution/solution";
import { CheckView } from "./Check";
import { ChoiceView } from "./ChoiceView";
import { ContrastView } from "./ContrastView";
import { ControlView } from "./ControlView";
import { DeriveView } from "./DeriveView";
import { FigureViews } from "./FigureViews";
import { FormulaView } from "./Formula";
import { HypothesesView } from "./Hypotheses";
import { NumberButton } from "./Number";
import { PlaceView } from "./PlaceView";
import { PowerView } from "./PowerView";
import { ProseView } from "./Prose";
import { ReportView } from "./Report";
import { SimulationView } from "./SimulationView";
import { TableView } from "./TableView";
import { VerdictView } from "./Verdict";

interface Props {
  block: Block;
  /** Whether it has half the width. */
  small?: boolean;
}

/** BlockView draws one block. A new kind of block is drawn here and nowhere else. */
export function BlockView({ block, small = false }: Props) {
  const { solution, quantities } = useSolution();
  const { act } = useActions();
  const units = useFigureUnits();
  switch (block.kind) {
    case "prose":
      return <ProseView block={block} />;
    case "formula":
      return <FormulaView id={block.quantity} />;
    case "values":
      return (
        <dl className="grid grid-cols-[auto_auto] justify-start gap-x-4 gap-y-1">
          {block.quantities.map((id) => (
            <div className="contents" key={id}>
              <dt>{quantities.get(id)?.label}</dt>
              <dd className="text-right">
                <NumberButton id={id} />
              </dd>
            </div>
          ))}
        </dl>
      );
    case "table":
      return <TableView id={block.table} />;
    case "control": {
      const control = solution.controls.find((each) => each.id === block.control);
      return control ? <ControlView control={control} /> : null;
    }
    case "choice":
      return <ChoiceView block={block} />;
    case "derive":
      return <DeriveView block={block} />;
    case "place":
      return <PlaceView block={block} />;
    case "contrast":
      return <ContrastView block={block} />;
    case "figure": {
      const figure = findFigure(solution, block.figure);
      if (!figure) return null;
      return (
        <div>
          {block.views && block.views.length > 1 ? (
            <FigureViews views={block.views} />
          ) : (
            <LongFigure figure={figure} width={small ? smallUnits(units) : (units ?? 470)} />
          )}
          {block.actions && (
            <p className="screen-only mt-1 flex flex-wrap gap-x-5 gap-y-1">
              {block.actions.map((action) => (
                <button key={action.id} type="button" className="act" title={action.says} onClick={() => act(action)}>
                  {action.label}
                </button>
              ))}
            </p>
          )}
        </div>
      );
    }
    case "hypotheses":
      return <HypothesesView block={block} />;
    case "check":
      return <CheckView id={block.condition} />;
    case "verdict":
      return <VerdictView block={block} />;
    case "power":
      return <PowerView block={block} />;
    case "simulation":
      return <SimulationView block={block} />;
    case "report":
      return <ReportView block={block} />;
    default:
      return block satisfies never;
  }
}
