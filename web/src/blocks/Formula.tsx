import type { Quantity } from "../api/types";
import { CopyCorner } from "../app/CopyCorner";
import { CopyMenu } from "../app/CopyMenu";
import { KeepButton } from "../kept/KeepButton";
import { copyRich, copyText } from "../lib/copy";
import { useActions } from "../solution/actions";
import { useSolution } from "../solution/solution";
import { NumberButton, withUnit } from "./Number";
import { definition, fillIn, mathML, TeX, wholeTeX } from "./TeX";

/** FormulaView shows where a quantity comes from: in symbols, with numbers, the result. */
export function FormulaView({ id }: { id: string }) {
  const { quantities } = useSolution();
  const { open } = useActions();
  const quantity = quantities.get(id);
  if (!quantity) return null;
  const tex = () => wholeTeX(quantity, quantities);
  const menu = (
    <>
      <CopyMenu
        label={`Copy the formula “${quantity.label}”`}
        ways={[
          { words: "TeX", copy: () => copyText(tex()) },
          { words: "MathML, for word processors", copy: () => mathML(tex()).then((math) => copyRich(math, math)) },
        ]}
      />
      {quantity.formula && <KeepButton at={`formula/${id}`} what={`the formula “${quantity.label}”`} />}
    </>
  );
  return (
    <CopyCorner menu={menu}>
      <div className="rounded-box border border-base-300 bg-sheet px-4 py-2.5">
        <FormulaLines quantity={quantity} quantities={quantities} onOpen={open} />
        <Rounding quantity={quantity} />
      </div>
    </CopyCorner>
  );
}

interface LinesProps {
  quantity: Quantity;
  quantities: ReadonlyMap<string, Quantity>;
  onOpen: (ref: string, at: Element) => void;
}

/** FormulaLines are the two lines of a formula, with its result. */
export function FormulaLines({ quantity, quantities, onOpen }: LinesProps) {
  const formula = quantity.formula;
  const relation = quantity.display.startsWith("<") ? "" : "=";
  const result = (
    <span className="whitespace-nowrap">
      {relation && <span className="px-1.5">{relation}</span>}
      <NumberButton id={quantity.id} className="font-serif font-semibold text-[1.25rem]" words={withUnit(quantity)} />
    </span>
  );
  if (!formula) {
    return (
      <div className="flex flex-wrap items-center">
        <TeX tex={quantity.symbol} />
        {result}
      </div>
    );
  }
  const numeric = formula.numeric ?? formula.symbolic;
  return (
    <div className="grid grid-cols-1 gap-2.5 overflow-x-auto overflow-y-hidden">
      <div className="py-0.5">
        <TeX tex={`\\displaystyle ${definition(quantity, quantities)}`} onOpen={onOpen} />
      </div>
      <div className="flex flex-wrap items-center gap-y-1">
        <span className="py-0.5">
          <TeX tex={`\\displaystyle = ${fillIn(numeric, "numbers", quantities)}`} onOpen={onOpen} />
        </span>
        {result}
      </div>
    </div>
  );
}

/** Rounding says where the shown numbers would give another last digit. */
export function Rounding({ quantity }: { quantity: Quantity }) {
  if (!quantity.formula?.rounding) return null;
  return <p className="mt-2 text-[0.86rem] text-muted">{quantity.formula.rounding}</p>;
}
