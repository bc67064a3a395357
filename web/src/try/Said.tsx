import type { Item } from "../api/types";
import { TeX } from "../blocks/TeX";
import { counted } from "../lib/words";
import { useDoing } from "./context";
import { credited, markingOf } from "./marks";

/** Said is what is said of an answer, the help that was taken, and the way to more of it. */
export function Said({ item, waiting }: { item: Item; waiting: boolean }) {
  const { help, fixed, aside } = useDoing();
  const verdict = waiting ? undefined : item.verdict;
  const more = !fixed && !credited(item) && !item.shown && item.help.length < item.helps;
  const counts = item.left !== undefined && !credited(item) && !item.shown && !fixed;
  return (
    <div className="grid justify-items-start gap-1.5">
      {verdict && (
        <p className={markingOf(item)?.tone ?? ""} data-testid={`says-${item.id}`}>
          {verdict.says}
        </p>
      )}
      {counts && (verdict !== undefined || (item.left ?? 0) < 2) && (
        <p className="text-[0.9rem] text-muted">
          {item.left === 0
            ? "It was answered as often as it may be."
            : `${counted(item.left ?? 0, "try", "tries")} left.`}
        </p>
      )}
      {verdict?.found && (
        <ul className="grid gap-1">
          {verdict.found.map((found) => (
            <li key={found.id} data-found={found.id}>
              {found.words && (
                <>
                  <q className="underline decoration-(--region) decoration-wavy decoration-from-font underline-offset-4">
                    {found.words}
                  </q>
                  {": "}
                </>
              )}
              {found.instead}
            </li>
          ))}
        </ul>
      )}
      {item.help.length > 0 && (
        <ol className="grid w-full gap-1 border-base-300 border-l-2 pl-3" aria-label={`Help: ${item.label}`}>
          {item.help.map((each, i) => {
            const last = item.shown && i === item.helps - 1;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: help comes one by one and stays
              <li key={i} className={last ? "font-semibold" : "overflow-x-auto text-muted"}>
                {each.tex ? <TeX tex={each.tex} /> : last ? `It is ${each.words}` : each.words}
              </li>
            );
          })}
        </ol>
      )}
      {more && (
        <button
          type="button"
          // Where nothing was answered yet it shows beside the ask in hand.
          className={`act text-[0.9rem] ${
            verdict || item.help.length > 0
              ? ""
              : "opacity-0 focus-visible:opacity-100 group-focus-within/row:opacity-100 group-hover/row:opacity-100 pointer-coarse:opacity-100"
          }`}
          onClick={() => help(item.id)}
        >
          {item.help.length === item.helps - 1
            ? "Show it"
            : item.help.length === 0
              ? "Help"
              : `More help (${item.help.length + 1} of ${item.helps})`}
        </button>
      )}
      {aside(item)}
    </div>
  );
}
