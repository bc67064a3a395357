import type { HypothesesBlock } from "../api/types";
import { TeX } from "./TeX";

/** HypothesesView sets H₀ and H₁ in symbols and words. */
export function HypothesesView({ block }: { block: HypothesesBlock }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-4 gap-y-1 max-sm:grid-cols-1">
      {[block.null, block.alternative].map((hypothesis) => (
        <div className="contents" key={hypothesis.symbols}>
          <dt>
            <TeX tex={hypothesis.symbols} />
          </dt>
          <dd className="max-sm:mb-1.5">{hypothesis.words}</dd>
        </div>
      ))}
    </dl>
  );
}
