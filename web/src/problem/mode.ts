/** Mode is a way to see a solution: all of it, one step at a time, or worked by oneself. */
export type Mode = "read" | "reveal" | "try";

export const modes: readonly { mode: Mode; label: string }[] = [
  { mode: "read", label: "Read" },
  { mode: "reveal", label: "Reveal" },
  { mode: "try", label: "Try" },
];
