import { useState } from "react";
import type { ContrastBlock, Tail } from "../api/types";
import { type Side, sideOf, weightsOf } from "../lib/contrast";
import { useActions } from "../solution/actions";

const tails: { value: Tail; label: string; says: string }[] = [
  { value: "left", label: "<", says: "less" },
  { value: "both", label: "≠", says: "different" },
  { value: "right", label: ">", says: "more" },
];

/**
 * ContrastView builds a contrast: groups are put on one side or on the other, and the means
 * of the two sides are compared, with a tail of its own.
 */
export function ContrastView({ block }: { block: ContrastBlock }) {
  const { change } = useActions();
  const given = () => new Map(block.groups.map((group) => [group.code, sideOf(group)]));
  const [sides, setSides] = useState<Map<string, Side>>(given);
  const known = JSON.stringify(block.groups);
  const [seen, setSeen] = useState(known);
  if (seen !== known) {
    // Another contrast came from elsewhere, by undo for one.
    setSeen(known);
    if (block.groups.some((group) => sideOf(group) !== 0) || weightsOf(sides)) setSides(given());
  }
  const there = block.groups.some((group) => group.weight !== 0);
  const set = (next: Map<string, Side>, tail: Tail) => {
    setSides(next);
    const weights = weightsOf(next);
    if (weights) change([{ pointer: block.pointer, value: { weights, tail } }], "the contrast");
    else if (there) change([{ pointer: block.pointer, value: null }], "the contrast");
  };
  const put = (code: string, side: Side) =>
    set(new Map(sides).set(code, sides.get(code) === side ? 0 : side), block.tail);
  const rows: { side: Side; says: string }[] = [
    { side: 1, says: "The mean of" },
    { side: -1, says: "against that of" },
  ];
  const waiting = [...sides.values()].some((side) => side !== 0) && !weightsOf(sides);
  return (
    <section aria-label="Build a contrast" className="rounded-box border border-base-300 bg-sheet px-4 py-3">
      {rows.map(({ side, says }) => (
        // biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame
        <div key={side} role="group" aria-label={says} className="mt-1 flex flex-wrap items-baseline gap-x-1.5 gap-y-1">
          <span className="w-28 text-muted">{says}</span>
          {block.groups.map((group) => {
            const on = sides.get(group.code) === side;
            return (
              <button
                key={group.code}
                type="button"
                aria-pressed={on}
                className={`cursor-pointer rounded-field border px-2 py-0.5 ${
                  on ? "border-ink bg-ink text-base-100" : "border-base-300 hover:bg-base-200"
                }`}
                onClick={() => put(group.code, side)}
              >
                {group.label}
              </button>
            );
          })}
        </div>
      ))}
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div role="group" aria-label="H₁ says that the first is" className="mt-2 flex flex-wrap items-baseline gap-x-1.5">
        <span className="w-28 text-muted">H₁ says it is</span>
        {tails.map((tail) => (
          <button
            key={tail.value}
            type="button"
            title={tail.says}
            aria-pressed={block.tail === tail.value}
            disabled={!there}
            className={`rounded-field border px-2.5 py-0.5 enabled:cursor-pointer disabled:text-muted ${
              block.tail === tail.value && there
                ? "border-ink bg-ink text-base-100"
                : "border-base-300 enabled:hover:bg-base-200"
            }`}
            onClick={() => set(sides, tail.value)}
          >
            {tail.label}
          </button>
        ))}
        {there && (
          <button
            type="button"
            className="act ml-3"
            onClick={() => {
              setSides(new Map());
              change([{ pointer: block.pointer, value: null }], "the contrast");
            }}
          >
            No contrast
          </button>
        )}
      </div>
      <p className="mt-1.5 text-muted" role="status">
        {waiting && "Put a group on the other side too."}
      </p>
    </section>
  );
}
