import { useState } from "react";

/** useRemembered is a state that the browser remembers under a name. */
export function useRemembered<T>(name: string, initial: T): [T, (value: T) => void] {
  const key = `grund.${name}`;
  const [value, setValue] = useState<T>(() => {
    try {
      return JSON.parse(localStorage.getItem(key) ?? "null") ?? initial;
    } catch {
      return initial; // written by something else
    }
  });
  return [
    value,
    (next) => {
      setValue(next);
      localStorage.setItem(key, JSON.stringify(next));
    },
  ];
}
