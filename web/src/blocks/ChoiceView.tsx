import type { ChoiceBlock } from "../api/types";
import { lowerFirst } from "../lib/words";
import { useActions } from "../solution/actions";

/** ChoiceView ticks the values that stand together in a list of the problem; one always stays. */
export function ChoiceView({ block }: { block: ChoiceBlock }) {
  const { change, act } = useActions();
  const { keep } = block;
  const chosen = block.choices.filter((choice) => choice.chosen).map((choice) => choice.value);
  const set = (values: string[]) =>
    change(
      [{ pointer: block.pointer, value: values }, ...(block.drops ?? []).map((pointer) => ({ pointer, value: null }))],
      lowerFirst(block.label),
    );
  return (
    <fieldset className="screen-only flex flex-wrap items-center gap-x-4 gap-y-1">
      <legend className="float-left mr-4 text-muted">{block.label}</legend>
      {block.choices.map((choice) => (
        <label key={choice.value} className="flex cursor-pointer items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-sm bg-sheet"
            checked={choice.chosen}
            disabled={choice.chosen && chosen.length === 1}
            onChange={() =>
              set(choice.chosen ? chosen.filter((value) => value !== choice.value) : [...chosen, choice.value])
            }
          />
          {choice.label}
        </label>
      ))}
      {keep && (
        <button type="button" className="act" title={keep.says} onClick={() => act(keep)}>
          {keep.label}
        </button>
      )}
    </fieldset>
  );
}
