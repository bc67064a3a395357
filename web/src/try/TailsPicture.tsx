import { useId, useState } from "react";

const width = 300;
const height = 104;
const base = 84;
const middle = width / 2;

/** The sketch of a curve: it shows no problem's numbers. */
const heightAt = (x: number) => base - 66 * Math.exp(-(((x - middle) / 52) ** 2) / 2);

function tail(from: number, to: number): string {
  const points = Array.from({ length: 21 }, (_, i) => from + ((to - from) * i) / 20);
  return `M${from},${base} ${points.map((x) => `L${x},${heightAt(x).toFixed(1)}`).join(" ")} L${to},${base} Z`;
}

/** TailsPicture lets the tails be chosen in which the rejection region lies: on the sketch of a curve, or by its two switches. */
export function TailsPicture({ chosen, onChoose }: { chosen?: string; onChoose: (value: string) => void }) {
  const hatch = useId();
  const [tails, setTails] = useState({
    left: chosen === "left" || chosen === "both",
    right: chosen === "right" || chosen === "both",
  });
  const toggle = (side: "left" | "right") => setTails({ ...tails, [side]: !tails[side] });
  const value = tails.left && tails.right ? "both" : tails.left ? "left" : tails.right ? "right" : "";
  const path = Array.from({ length: 61 }, (_, i) => (i * width) / 60)
    .map((x, i) => `${i === 0 ? "M" : "L"}${x},${heightAt(x).toFixed(1)}`)
    .join(" ");
  return (
    <div className="grid gap-2">
      <svg viewBox={`0 0 ${width} ${height}`} className="w-full max-w-[20rem]" aria-hidden="true">
        <defs>
          <pattern id={hatch} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="6" stroke="var(--region)" strokeWidth="2.2" />
          </pattern>
        </defs>
        {(["left", "right"] as const).map((side) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: as above
          <g key={side} className="cursor-pointer" onClick={() => toggle(side)}>
            <rect x={side === "left" ? 0 : middle} y="0" width={middle} height={base} fill="transparent" />
            <path
              d={side === "left" ? tail(0, 78) : tail(222, width)}
              fill={tails[side] ? `url(#${hatch})` : "transparent"}
              stroke={tails[side] ? "var(--region)" : "var(--muted)"}
              strokeWidth="1.4"
              strokeDasharray={tails[side] ? undefined : "4 3"}
            />
          </g>
        ))}
        <path d={path} fill="none" stroke="var(--expected)" strokeWidth="2.2" pointerEvents="none" />
        <line x1="0" x2={width} y1={base} y2={base} stroke="var(--ink)" />
        <text x="6" y={base + 15} fontSize="12" fill="var(--muted)">
          left tail
        </text>
        <text x={width - 6} y={base + 15} fontSize="12" fill="var(--muted)" textAnchor="end">
          right tail
        </text>
      </svg>
      <div className="flex flex-wrap items-center gap-1.5">
        {(["left", "right"] as const).map((side) => (
          <button
            key={side}
            type="button"
            data-ask="region"
            aria-pressed={tails[side]}
            className={`cursor-pointer rounded-box border px-3 py-1 ${tails[side] ? "border-ink bg-raised" : "border-base-300 bg-sheet hover:border-ink"}`}
            onClick={() => toggle(side)}
          >
            {side} tail
          </button>
        ))}
        <button
          type="button"
          className="btn btn-sm"
          disabled={value === "" || value === chosen}
          onClick={() => onChoose(value)}
        >
          This is the region
        </button>
      </div>
    </div>
  );
}
