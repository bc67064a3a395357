import { useState } from "react";
import type { Figure, Handle, Item } from "../api/types";
import { FigureView } from "../figures/FigureView";
import { fixed } from "../lib/number";
import { findFigure, useSolution } from "../solution/solution";
import { credited } from "./marks";

/** CurveSoFar is what was earned of the curve: the bare axis first, then the curve, the region, the statistic, the area. */
export function CurveSoFar({ items, onPut }: { items: Item[]; onPut: (ask: string, text: string) => void }) {
  const { solution } = useSolution();
  const [moved, setMoved] = useState<ReadonlyMap<string, number>>(new Map());
  const earned = findFigure(solution, "curve");
  const curve = earned && { ...earned, handles: handlesOf(items, earned, moved) };
  const interval = findFigure(solution, "interval");
  const roles = new Set(curve?.marks.map((mark) => mark.role));
  const parts = [
    { label: "the curve", there: curve !== undefined },
    { label: "the rejection region", there: roles.has("region") },
    { label: "the statistic", there: roles.has("statistic") },
    { label: "the area that is p", there: roles.has("p-area") },
  ];
  const missing = parts.filter((part) => !part.there).map((part) => part.label);
  return (
    <aside
      aria-label="The curve so far"
      className="border-base-300 px-[1.2rem] py-3 max-lg:border-t max-sm:px-4 lg:sticky lg:top-(--bar) lg:h-[calc(100dvh-6.6rem)] lg:overflow-y-auto lg:border-l"
    >
      <h2 className="text-[0.95rem]">If H₀ were true</h2>
      {curve ? (
        <FigureView
          figure={curve}
          width={320}
          onMove={(handle, at) => {
            setMoved(new Map(moved).set(handle.id, at));
            onPut(handle.id, fixed(at, 2));
          }}
        />
      ) : (
        <BareAxis />
      )}
      {curve && curve.handles.length > 0 && (
        <p className="mt-1 text-[0.9rem] text-muted">Drag the line to the critical value, or type it.</p>
      )}
      {missing.length > 0 && (
        <p className="mt-1 text-[0.9rem] text-muted">
          Still to come: {missing.length > 1 ? `${missing.slice(0, -1).join(", ")} and ${missing.at(-1)}` : missing[0]}.
        </p>
      )}
      {solution.conclusion !== "" && (
        <p className="mt-3 rounded-box border-[1.5px] border-ink bg-sheet px-3.5 py-2.5 font-serif text-[1.03rem] leading-snug">
          {solution.conclusion}
        </p>
      )}
      {interval && (
        <div className="mt-3 border-base-300 border-t pt-2.5">
          <h2 className="text-[0.95rem]">{interval.title}</h2>
          <FigureView figure={interval} width={320} />
        </div>
      )}
    </aside>
  );
}

/** handlesOf are lines that can be dragged to the critical values that are asked for and not found yet. */
function handlesOf(items: Item[], curve: Figure, moved: ReadonlyMap<string, number>): Handle[] {
  const min = curve.axis.min ?? -4;
  const max = curve.axis.max ?? 4;
  return items
    .filter((item) => item.id.startsWith("critical_") && !credited(item) && !item.shown)
    .map((item) => ({
      id: item.id,
      label: item.label,
      pointer: "",
      at: moved.get(item.id) ?? (min < 0 && item.id === "critical_low" ? min / 4 : max / 4),
      min,
      max,
      step: max - min > 20 ? 0.1 : 0.01,
    }));
}

/** BareAxis is where the curve will stand. */
function BareAxis() {
  return (
    <svg viewBox="0 0 320 190" className="w-full" role="img" aria-label="A bare axis: the curve is still to be found.">
      <line x1="12" x2="308" y1="166" y2="166" stroke="var(--ink)" />
      {[0, 1, 2, 3, 4, 5, 6].map((i) => (
        <line key={i} x1={30 + i * 43} x2={30 + i * 43} y1="166" y2="171" stroke="var(--muted)" />
      ))}
    </svg>
  );
}
