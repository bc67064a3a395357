/** found returns the things of which a text holds every word that is looked for, in any order and in any case. */
export function found<T>(things: readonly T[], looked: string, textOf: (thing: T) => string): T[] {
  const words = folded(looked).split(/\s+/).filter(Boolean);
  return things.filter((thing) => {
    const text = folded(textOf(thing));
    return words.every((word) => text.includes(word));
  });
}

/** folded takes letters without their case and accents: “Überfahrt” is found by “uber”. */
const folded = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** groupedBy parts things by a name, in the order in which the names come. */
export function groupedBy<T>(things: readonly T[], nameOf: (thing: T) => string): { name: string; things: T[] }[] {
  const groups = new Map<string, T[]>();
  for (const thing of things) {
    const name = nameOf(thing);
    const group = groups.get(name);
    if (group) group.push(thing);
    else groups.set(name, [thing]);
  }
  return [...groups].map(([name, each]) => ({ name, things: each }));
}

const key = "grund.opened";
/** How many things it is remembered of when they were opened last. */
const most = 300;

/** openedAt returns when things were opened last, in milliseconds, by their ids. */
export function openedAt(): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "{}") ?? {};
  } catch {
    return {}; // written by something else
  }
}

/** noteOpened remembers that a problem or a data set is opened now. */
export function noteOpened(id: string, now = Date.now()) {
  const latest = Object.entries({ ...openedAt(), [id]: now })
    .sort(([, a], [, b]) => b - a)
    .slice(0, most);
  localStorage.setItem(key, JSON.stringify(Object.fromEntries(latest)));
}

/** lastUsedFirst orders things by when they were opened or changed last. */
export function lastUsedFirst<T extends { id: string; updated_at: string }>(things: readonly T[]): T[] {
  const opened = openedAt();
  const used = (thing: T) => Math.max(opened[thing.id] ?? 0, Date.parse(thing.updated_at));
  return [...things].sort((a, b) => used(b) - used(a));
}
