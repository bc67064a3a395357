import { useMemo } from "react";
import { inNumerals, type Numerals } from "./numerals";
import { usePreference } from "./preferences";

/** useNumerals returns how numbers are written. */
export function useNumerals(): Numerals {
  const [mark] = usePreference("mark");
  const [zero] = usePreference("zero");
  return useMemo(() => ({ mark, zero }), [mark, zero]);
}

/** useInNumerals returns a part of a solution with its numbers written so. */
export function useInNumerals<T>(part: T): T {
  const numerals = useNumerals();
  return useMemo(() => inNumerals(part, numerals), [part, numerals]);
}
