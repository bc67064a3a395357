import { useEffect, useRef } from "react";

/** A Shortcut is a key that acts, with the words that the list of keys shows. */
export interface Shortcut {
  key: string; // as KeyboardEvent.key gives it
  says: string;
  act: () => void;
  hidden?: boolean; // a second key for the same act
}

const active = new Set<{ current: Shortcut[] }>();

/** activeShortcuts returns all keys that act at present, the latest added first. */
export function activeShortcuts(): Shortcut[] {
  return [...active].reverse().flatMap((list) => list.current);
}

/** useShortcuts makes keys act while the component is there. */
export function useShortcuts(shortcuts: Shortcut[]) {
  const list = useRef(shortcuts);
  list.current = shortcuts;
  useEffect(() => {
    active.add(list);
    return () => {
      active.delete(list);
    };
  }, []);
}

/** typing reports whether keys go into what has the focus; a box to be ticked takes the space bar alone. */
function typing(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement && target.type === "checkbox") return false;
  return target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable], dialog") !== null;
}

document.addEventListener("keydown", (event) => {
  if (event.defaultPrevented || event.altKey) return;
  const chord = event.ctrlKey || event.metaKey;
  const name = chord ? `Ctrl+${event.key}` : event.key;
  if (typing(event.target)) return;
  // Keys of one character can be switched off, for those who speak or mistype them.
  if (!chord && event.key.length === 1 && localStorage.getItem("grund.singleKeys") === "off" && event.key !== "?")
    return;
  if (
    event.key === " " &&
    event.target instanceof HTMLElement &&
    event.target.closest("button, a, summary, input, [role]")
  )
    return;
  const found = activeShortcuts().find((shortcut) => shortcut.key === name);
  if (found) {
    event.preventDefault();
    found.act();
  }
});
