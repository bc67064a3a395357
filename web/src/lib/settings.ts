import { useSyncExternalStore } from "react";

/** Choices that the browser remembers from one visit to the next. */
const defaults = {
  theme: "day" as "day" | "night",
  size: "desk" as "desk" | "projector",
  singleKeys: "on" as "on" | "off",
};
type Settings = typeof defaults;

const listeners = new Set<() => void>();

function read<K extends keyof Settings>(key: K): Settings[K] {
  if (key === "theme") return document.documentElement.dataset.theme as Settings[K];
  return (localStorage.getItem(`grund.${key}`) as Settings[K] | null) ?? defaults[key];
}

function write<K extends keyof Settings>(key: K, value: Settings[K]) {
  localStorage.setItem(`grund.${key}`, value);
  if (key === "theme") document.documentElement.dataset.theme = value;
  for (const listener of listeners) listener();
}

/** useSetting returns a remembered choice and the function that changes it. */
export function useSetting<K extends keyof Settings>(key: K): [Settings[K], (value: Settings[K]) => void] {
  const value = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => read(key),
  );
  return [value, (next) => write(key, next)];
}
