import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { type Held, Keeping, type Kept, type Way } from "./keeping";

// biome-ignore lint/suspicious/noExplicitAny: what is kept does not matter here
type Any = Keeping<any, any>;

/** What pages hold at present, and what pages that were left could not keep yet: by name. */
const open = new Map<string, Any>();
const left = new Map<string, Any>();

/** leftKept waits until what was changed under a name on a page that was left is kept, or cannot be. */
export async function leftKept(name: string): Promise<void> {
  await left.get(name)?.flush();
}

function enter(name: string, keeping: Any) {
  open.set(name, keeping);
  if (left.get(name) === keeping) left.delete(name);
}

/** leave keeps what the page had not kept yet. What cannot be kept now stays until it can, or until the person decides. */
function leave(name: string, keeping: Any) {
  if (open.get(name) === keeping) open.delete(name);
  left.set(name, keeping);
  const forget = () => {
    if (!keeping.settled()) return;
    unsubscribe();
    if (left.get(name) === keeping) left.delete(name);
  };
  const unsubscribe = keeping.subscribe(forget);
  keeping.flush().then(forget);
}

const all = () => new Set([...open.values(), ...left.values()]);

let gone = false;
addEventListener("pagehide", () => {
  for (const keeping of all()) gone = keeping.leave() || gone;
});
addEventListener("beforeunload", (event) => {
  if ([...all()].some((keeping) => keeping.holdsBack())) event.preventDefault();
});
// A page that nobody sees may be slowed down or ended by the browser, without another word.
document.addEventListener("visibilitychange", () => {
  if (document.visibilityState !== "hidden") return;
  for (const keeping of all()) void keeping.flush();
});
// A page that comes back from the browser's memory does not know which version was written when it went.
addEventListener("pageshow", (event) => {
  if (event.persisted && gone) location.reload();
});

/**
 * useKeeping holds a state that is kept on the server under a name. What was left unkept under the name is taken up again,
 * in place of the initial state.
 */
export function useKeeping<S, B>(
  name: string,
  initial: Held<S, B>,
  way: Way<S, B>,
): Kept<S, B> & { keeping: Keeping<S, B> } {
  const [keeping] = useState<Keeping<S, B>>(() => left.get(name) ?? new Keeping(initial, way));
  useEffect(() => {
    enter(name, keeping);
    return () => leave(name, keeping);
  }, [name, keeping]);
  const kept = useSyncExternalStore(keeping.subscribe, keeping.snapshot);
  return useMemo(() => ({ ...kept, keeping }), [kept, keeping]);
}
