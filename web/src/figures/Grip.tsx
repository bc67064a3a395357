import type { ScaleLinear } from "d3-scale";
import { useRef, useState } from "react";
import type { Handle } from "../api/types";
import { tick } from "./marks";

interface Props {
  handle: Handle;
  x: ScaleLinear<number, number>;
  /** How far down the grip reaches. */
  base: number;
  onMove: (handle: Handle, value: number) => void;
  /** Draws the mark at a position. */
  children: (at: number) => React.ReactNode;
}

/** Grip lets a mark be moved by pointer and by key: it follows the pointer, and acts when it is let go. */
export function Grip({ handle, x, base, onMove, children }: Props) {
  const at = handle.at ?? 0;
  const [dragged, setDragged] = useState<number | null>(null);
  const group = useRef<SVGGElement>(null);
  const value = dragged ?? at;
  const step = handle.step ?? 1;
  const snapped = (v: number) => {
    const low = handle.min ?? v;
    const high = handle.max ?? v;
    return Number((Math.round(Math.min(high, Math.max(low, v)) / step) * step).toPrecision(12));
  };
  const fromPointer = (event: React.PointerEvent) => {
    const svg = group.current?.ownerSVGElement;
    if (!svg) return value;
    const box = svg.getBoundingClientRect();
    return snapped(x.invert(((event.clientX - box.left) / box.width) * svg.viewBox.baseVal.width));
  };
  return (
    <g
      ref={group}
      className="cursor-ew-resize touch-none"
      role="slider"
      tabIndex={0}
      aria-label={handle.label}
      aria-valuemin={handle.min ?? undefined}
      aria-valuemax={handle.max ?? undefined}
      aria-valuenow={value}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setDragged(fromPointer(event));
      }}
      onPointerMove={(event) => dragged !== null && setDragged(fromPointer(event))}
      onPointerUp={() => {
        if (dragged !== null && dragged !== at) onMove(handle, dragged);
        setDragged(null);
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(handle, snapped(at + by * step));
      }}
    >
      <rect x={x(value) - 12} y="0" width="24" height={base} fill="transparent" />
      {children(value)}
      {dragged !== null && (
        <text x={x(value)} y={base - 4} textAnchor="middle" className="text-[12px]" fill="var(--expected-text)">
          {tick(String(dragged))}
        </text>
      )}
    </g>
  );
}
