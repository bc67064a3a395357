import type { Weighted } from "../api/types";

/** On which side of a contrast a group stands. */
export type Side = 1 | 0 | -1;

export const sideOf = (group: Weighted): Side => Math.sign(group.weight ?? 0) as Side;

/**
 * weightsOf compares the mean of the groups on one side with that of those on the other: the
 * weights of a side add up to 1 or −1. None are given until there is a group on each side.
 */
export function weightsOf(sides: Map<string, Side>): Record<string, number> | null {
  const count = (side: Side) => [...sides.values()].filter((each) => each === side).length;
  const [plus, minus] = [count(1), count(-1)];
  if (plus === 0 || minus === 0) return null;
  return Object.fromEntries(
    [...sides].filter(([, side]) => side !== 0).map(([code, side]) => [code, side === 1 ? 1 / plus : -1 / minus]),
  );
}
