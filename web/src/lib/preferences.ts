import { useSyncExternalStore } from "react";

/** Choices that the browser remembers from one visit to the next. */
const defaults = {
  theme: "day" as "day" | "night",
  size: "desk" as "desk" | "projector",
  singleKeys: "on" as "on" | "off",
  mark: "point" as "point" | "comma",
  zero: "kept" as "kept" | "dropped",
};
type Preferences = typeof defaults;

const listeners = new Set<() => void>();

function read<K extends keyof Preferences>(key: K): Preferences[K] {
  if (key === "theme") return document.documentElement.dataset.theme as Preferences[K];
  return (localStorage.getItem(`grund.${key}`) as Preferences[K] | null) ?? defaults[key];
}

function write<K extends keyof Preferences>(key: K, value: Preferences[K]) {
  localStorage.setItem(`grund.${key}`, value);
  if (key === "theme") document.documentElement.dataset.theme = value;
  for (const listener of listeners) listener();
}

/** preference returns a remembered choice as it is now. */
export const preference = read;

/** usePreference returns a remembered choice and the function that changes it. */
export function usePreference<K extends keyof Preferences>(key: K): [Preferences[K], (value: Preferences[K]) => void] {
  const value = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => read(key),
  );
  return [value, (next) => write(key, next)];
}
