import type { Draft } from "../api/types";

/** namesOf returns the variables of a role as a list. */
export function namesOf(draft: Draft, role: string): string[] {
  const names = draft.roles[role];
  return names === undefined ? [] : Array.isArray(names) ? names : [names];
}
