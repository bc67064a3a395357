import type { Drawing, Ink } from "../api/types";
import { counted } from "../lib/words";

const fills: Record<Ink, string> = { black: "var(--ink)", red: "var(--region)", green: "var(--primary)" };

/** DrawingView shows what a person drew. */
export function DrawingView({ drawing }: { drawing: Drawing }) {
  return (
    <svg
      viewBox={`0 0 ${drawing.width} ${drawing.height}`}
      className="block h-auto max-w-full"
      style={{ width: `${drawing.width}px` }}
      role="img"
      aria-label={`A drawing by hand: ${counted(drawing.strokes.length, "stroke")}.`}
    >
      {drawing.strokes.map((stroke, i) => (
        <polygon
          // biome-ignore lint/suspicious/noArrayIndexKey: a stroke is its place in the drawing
          key={i}
          points={stroke.outline.join(" ")}
          fill={fills[stroke.ink]}
          fillOpacity={stroke.marker ? 0.35 : 1}
        />
      ))}
    </svg>
  );
}
