import type { Decimals } from "../api/types";

/** Chosen are decimals as they stand in a problem file: of all kinds alike, by kind, or null for as needed. */
export type Chosen = number | Decimals | null;

const key = "grund.decimals";

/** decimalsForAll returns the decimals that new problems begin with. */
export function decimalsForAll(): Chosen {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null");
  } catch {
    return null; // written by something else
  }
}

/** rememberDecimals keeps the decimals that new problems begin with. */
export const rememberDecimals = (chosen: Chosen) => localStorage.setItem(key, JSON.stringify(chosen));
