/** pointerTo returns the JSON pointer (RFC 6901) with the given steps. */
export const pointerTo = (...steps: string[]): string =>
  steps.map((step) => `/${step.replaceAll("~", "~0").replaceAll("/", "~1")}`).join("");

/** stepsOf returns the steps of a JSON pointer. */
export const stepsOf = (pointer: string): string[] =>
  pointer
    .split("/")
    .slice(1)
    .map((step) => step.replaceAll("~1", "/").replaceAll("~0", "~"));

const isObject = (node: unknown): node is Record<string, unknown> =>
  typeof node === "object" && node !== null && !Array.isArray(node);

/** valueAt returns what stands at a pointer in a tree of JSON, null where nothing does. */
export function valueAt(tree: unknown, pointer: string): unknown {
  let node = tree;
  for (const step of stepsOf(pointer)) {
    if (Array.isArray(node)) node = node[Number(step)];
    else node = isObject(node) && Object.hasOwn(node, step) ? node[step] : undefined;
  }
  return node ?? null;
}

/**
 * withValue returns a tree with a value at a pointer, and without the place where the value is null. The step “-” adds to
 * a list; a place that is missing on the way is made.
 */
export function withValue(tree: unknown, pointer: string, value: unknown): unknown {
  const put = (node: unknown, [step, ...rest]: string[]): unknown => {
    if (step === undefined) return value;
    if (Array.isArray(node) || (step === "-" && !isObject(node))) {
      const list = Array.isArray(node) ? node : [];
      const at = step === "-" ? list.length : Number(step);
      const next = put(list[at], rest);
      return next === null ? list.toSpliced(at, 1) : list.toSpliced(at, 1, next);
    }
    const next = put(isObject(node) ? node[step] : undefined, rest);
    const { [step]: _, ...others } = isObject(node) ? node : {};
    return next === null ? others : { ...others, [step]: next };
  };
  return put(tree, stepsOf(pointer));
}
