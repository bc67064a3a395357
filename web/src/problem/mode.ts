/** Mode is a way to see a solution: all of it, or one step at a time. */
export type Mode = "read" | "reveal";
