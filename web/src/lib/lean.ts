/** From how many standard deviations on a cell leans. */
export const leans = 2;

/** leanFill is the ink of a cell that leans and how much of it, from two standard deviations on. */
export function leanFill(lean: number): { ink: string; opacity: number } | null {
  if (Math.abs(lean) < leans) return null;
  const strength = Math.min(1, (Math.abs(lean) - leans) / 4 + 0.25);
  return { ink: lean > 0 ? "var(--color-primary)" : "var(--expected)", opacity: Math.round(strength * 26) / 100 };
}

/** leanMark is the mark of a cell that leans, so that its fill does not stand alone. */
export const leanMark = (lean: number): string => (Math.abs(lean) < leans ? "" : lean > 0 ? "▲" : "▼");
