import type { Draft, ProblemSet } from "../api/types";
import { readNumber } from "../lib/number";
import { pointerTo, stepsOf, valueAt, withValue } from "../lib/pointer";
import { same } from "../lib/same";

/** Settings are what can be changed of a problem beside its solution. */
export interface Settings {
  /** As they stand in the problem file, by their places. */
  tree: Readonly<Record<string, unknown>>;
  /**
   * What was set since another procedure was chosen. That one takes over of roles, options and tail what it knows, and
   * the server tells what that is; until then they are not in the tree.
   */
  since?: readonly ProblemSet[];
}

const carried: readonly string[] = ["roles", "options", "tail"];

/** settingsOf returns the settings of a draft that can be worked. */
export const settingsOf = (draft: Draft): Settings => ({
  tree: {
    procedure: draft.procedure,
    alpha: alphaOf(draft.alpha),
    confidence: draft.confidence,
    decimals: draft.decimals,
    leave_out: draft.leave_out,
    notes: draft.notes,
    pictures: draft.pictures,
    ...carriedOf(draft),
  },
});

/** alphaOf reads alpha as it is typed; “5 %” is how some textbooks put it. */
function alphaOf(text: string): number {
  const [number = "", ...more] = text.split("%");
  return more.length > 0 ? readNumber(number) / 100 : readNumber(number);
}

const carriedOf = ({ roles, options, tail }: Draft) => ({ roles, options, tail });

/** filled returns settings with what the chosen procedure took over, once a draft says what that is. */
export function filled(settings: Settings, draft: Draft): Settings {
  if (!settings.since || draft.procedure !== settings.tree.procedure) return settings;
  return { tree: { ...settings.tree, ...carriedOf(draft) } };
}

/** isCarried reports whether a pointer is to a part of what another procedure takes over. */
const isCarried = (pointer: string): boolean => carried.includes(stepsOf(pointer)[0] ?? "");

/** changed returns settings with values set in their order. */
export function changed(settings: Settings, sets: readonly ProblemSet[]): Settings {
  let { tree, since } = settings;
  for (const set of sets) {
    if (set.pointer === "/procedure") {
      const rest = Object.entries(tree).filter(([key]) => !carried.includes(key));
      tree = { ...Object.fromEntries(rest), procedure: set.value };
      since = [];
    } else if (since && isCarried(set.pointer)) {
      since = [...since.filter((each) => each.pointer !== set.pointer), set];
    } else {
      tree = withValue(tree, set.pointer, set.value) as Settings["tree"];
    }
  }
  return { tree, since };
}

/** current returns what stands at a pointer, null where nothing does or it is not known yet. */
export function current({ tree, since }: Settings, pointer: string): unknown {
  return since?.find((set) => set.pointer === pointer)?.value ?? valueAt(tree, pointer);
}

/** difference returns what must be set to come from the kept settings to the present ones. */
export function difference(settings: Settings, kept: Settings): ProblemSet[] {
  const { tree, since } = settings;
  const keys = [...new Set([...Object.keys(tree), ...Object.keys(kept.tree)])];
  const others = keys.filter((key) => key !== "procedure" && !carried.includes(key));
  const sets = others.filter((key) => !same(tree[key], kept.tree[key])).map((key) => whole(tree, key));
  const procedure = { pointer: "/procedure", value: tree.procedure };
  const sameProcedure = tree.procedure === kept.tree.procedure;
  if (since) {
    if (sameProcedure && kept.since) {
      const { since: before } = kept;
      return [...sets, ...since.filter((set) => !before.some((each) => same(each, set)))];
    }
    return [procedure, ...sets, ...since];
  }
  if (sameProcedure && !kept.since) return [...sets, ...partsOf(tree, kept.tree)];
  return [procedure, ...sets, ...carried.map((key) => whole(tree, key))];
}

const whole = (tree: Settings["tree"], key: string): ProblemSet => ({
  pointer: pointerTo(key),
  value: tree[key] ?? null,
});

/** partsOf returns the roles and options that are different, one by one, so that others that were set elsewhere stay. */
function partsOf(tree: Settings["tree"], kept: Settings["tree"]): ProblemSet[] {
  const sets: ProblemSet[] = [];
  for (const key of ["roles", "options"]) {
    const [now, before] = [tree, kept].map((each) => (each[key] ?? {}) as Record<string, unknown>);
    for (const part of new Set([...Object.keys(now ?? {}), ...Object.keys(before ?? {})])) {
      // A single name stands for a list of one.
      const differ =
        key === "roles" ? !same([now?.[part]].flat(), [before?.[part]].flat()) : !same(now?.[part], before?.[part]);
      if (differ) sets.push({ pointer: pointerTo(key, part), value: now?.[part] ?? null });
    }
  }
  if (!same(tree.tail, kept.tail)) sets.push(whole(tree, "tail"));
  return sets;
}

/** over puts what was changed since the kept settings over other ones. */
export const over = (mine: Settings, kept: Settings, theirs: Settings): Settings =>
  changed(theirs, difference(mine, kept));
