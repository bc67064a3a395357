import { BookCheck, Check, CircleHelp, CornerDownRight, Crosshair, Eye, PenLine, TriangleAlert, X } from "lucide-react";
import type { Item } from "../api/types";

/** How a verdict is marked: by a sign of its own, and a colour beside it. */
interface Marking {
  icon: typeof Check;
  label: string;
  tone: string;
}

const markings: Record<string, Marking> = {
  right: { icon: Check, label: "Right", tone: "text-primary" },
  coarse: { icon: Check, label: "Right as far as it goes", tone: "text-primary" },
  accepted: { icon: BookCheck, label: "Accepted", tone: "text-primary" },
  follows: { icon: CornerDownRight, label: "Follows from your own answers", tone: "text-primary" },
  slip: { icon: TriangleAlert, label: "A slip", tone: "text-(--expected-text)" },
  near: { icon: Crosshair, label: "Near", tone: "text-(--expected-text)" },
  wrong: { icon: X, label: "Not it", tone: "text-(--region-text)" },
  unreadable: { icon: CircleHelp, label: "Not read", tone: "text-muted" },
  read: { icon: PenLine, label: "Read", tone: "text-primary" },
  underlined: { icon: PenLine, label: "Something would be underlined", tone: "text-(--expected-text)" },
  shown: { icon: Eye, label: "Given up", tone: "text-muted" },
};

/** verdictLook is the sign of a verdict, and its colour. */
export const verdictLook = (verdict: string): { icon: typeof Check | undefined; tone: string } => ({
  icon: markings[verdict]?.icon,
  tone: markings[verdict]?.tone ?? "",
});

/** verdictWords says in words what a verdict is. */
export const verdictWords = (verdict: string): string => (markings[verdict]?.label ?? verdict).toLowerCase();

/** markingOf is how the state of an item is marked, nothing before it is answered. */
export function markingOf(item: Item): Marking | undefined {
  if (item.verdict?.found) return markings.underlined;
  if (item.verdict && item.verdict.verdict !== "unreadable" && credited(item)) return markings[item.verdict.verdict];
  if (item.shown) return markings.shown;
  return markings[item.verdict?.verdict ?? ""];
}

/** credited tells whether an item counts as right. */
export const credited = (item: Item): boolean =>
  ["right", "coarse", "accepted", "follows", "read"].includes(item.verdict?.verdict ?? "");

/** isSettled tells whether the person can go on from an item. */
export const isSettled = (item: Item): boolean =>
  item.shown || (item.verdict !== undefined && item.verdict.verdict !== "unreadable");

/** Mark is the sign of a verdict, on the thread. */
export function Mark({ item, waiting }: { item: Item; waiting: boolean }) {
  const marking = waiting ? undefined : markingOf(item);
  return (
    <span
      className={`relative flex size-[1.45rem] items-center justify-center rounded-full border bg-base-100 ${marking ? `border-current ${marking.tone}` : "border-base-300"}`}
    >
      {marking ? (
        <marking.icon size="0.9rem" strokeWidth={2.4} role="img" aria-label={marking.label} />
      ) : (
        <span className={`size-1.5 rounded-full bg-(--rule) ${waiting ? "animate-pulse" : ""}`} />
      )}
    </span>
  );
}
