import type { Item } from "../api/types";
import { TeX } from "../blocks/TeX";
import { useDoing } from "./context";
import { credited, Mark } from "./marks";
import { Row } from "./Row";
import { Said } from "./Said";
import { TailsPicture } from "./TailsPicture";

/** Those whose choices are statements, read one below the other. */
const statements = ["hypotheses", "conclusion"];

/** ChoiceAsk is an ask that is answered by choosing: a statement from cards, a tail on the curve, else one of a few words. */
export function ChoiceAsk({ item }: { item: Item }) {
  const { answer, waits, fixed } = useDoing();
  const waiting = waits(item.id);
  const choices = item.choices ?? [];
  const isStatement = statements.includes(item.id);
  const done = credited(item) && isStatement;
  const label = `ask-${item.id}`;
  const chosen = choices.find((choice) => choice.value === item.text);
  return (
    <Row
      margin={
        !isStatement && chosen ? (
          <span className="block pt-1 font-semibold font-serif text-[1.05rem] leading-tight max-sm:hidden">
            {chosen.words}
          </span>
        ) : null
      }
      mark={<Mark item={item} waiting={waiting} />}
    >
      <p id={label} className="text-muted">
        {item.label}
      </p>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame */}
      <div
        role="group"
        aria-labelledby={label}
        className={isStatement ? "my-1.5 grid gap-1.5" : "my-1.5 flex flex-wrap gap-1.5"}
      >
        {item.id === "region" ? (
          <TailsPicture chosen={item.text} onChoose={(value) => answer(item.id, value)} />
        ) : (
          choices
            .filter((choice) => !done || choice === chosen)
            .map((choice) => (
              <button
                key={choice.value}
                type="button"
                data-ask={item.id}
                data-choice={choice.value}
                aria-pressed={choice === chosen}
                className={`cursor-pointer rounded-box border text-left ${isStatement ? "px-3 py-2" : "px-3 py-1"} ${
                  choice === chosen
                    ? "border-ink bg-raised shadow-[inset_0_0_0_1px_var(--ink)]"
                    : "border-base-300 bg-sheet hover:border-ink"
                }`}
                disabled={fixed || item.left === 0}
                onClick={() => answer(item.id, choice.value)}
              >
                {choice.symbols && (
                  <span className="mb-0.5 block overflow-x-auto">
                    <TeX tex={choice.symbols} />
                  </span>
                )}
                <span className={choice.symbols ? "text-[0.92rem] text-muted leading-snug" : "leading-snug"}>
                  {choice.words}
                </span>
              </button>
            ))
        )}
      </div>
      <Said item={item} waiting={waiting} />
    </Row>
  );
}
