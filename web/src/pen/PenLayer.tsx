import { type PointerEvent, useCallback, useEffect, useRef } from "react";
import type { Ink } from "../api/types";
import { type Drawn, drawn, type Point, pathOf, type Sheet, type Tool, touches } from "./strokes";

interface Props {
  /** The step that is drawn over. */
  step: string;
  sheet: Sheet;
  /** What is drawn with; null leaves the page to be used. */
  tool: Tool | null;
  ink: Ink;
  onDraw: (stroke: Drawn) => void;
  onErase: (strokes: ReadonlySet<Drawn>) => void;
}

/** The colours of the inks, by day and by night. */
export const inkColors: Record<Ink, string> = { black: "--ink", red: "--region", green: "--primary" };

/** How much of a marker covers what is under it. */
const seenThrough = 0.35;
/** How near the eraser takes a stroke, in rem. */
const near = 0.5;
/** How long the trail of the laser lasts, in milliseconds. */
const trail = 350;

const paths = new WeakMap<Drawn, Path2D>();

/** pathFor is pathOf, made once for each stroke. */
function pathFor(stroke: Drawn): Path2D {
  let path = paths.get(stroke);
  if (!path) {
    path = pathOf(stroke);
    paths.set(stroke, path);
  }
  return path;
}

/** Where a step lies in the window, and how many pixels a rem has. */
interface Place {
  left: number;
  top: number;
  rem: number;
}

const elementOf = (step: string) => document.querySelector(`[data-step="${CSS.escape(step)}"]`);

function placeOf(step: string): Place {
  const box = elementOf(step)?.getBoundingClientRect();
  const rem = Number.parseFloat(getComputedStyle(document.documentElement).fontSize);
  return { left: box?.left ?? 0, top: box?.top ?? 0, rem };
}

/** A Hand is what is being drawn: its points so far. */
interface Hand {
  pointer: number;
  points: Point[];
  pressed: boolean;
}

/** A Spot is where the laser was at a time. */
interface Spot {
  x: number;
  y: number;
  at: number;
}

/** What there is to be drawn. */
type What = Pick<Props, "step" | "sheet" | "tool" | "ink">;

/** What stands on a canvas. */
interface Shown {
  strokes: readonly Drawn[];
  place: Place;
}

/** paintStill draws what was drawn: only what came anew where nothing else is another. It returns what stands there then. */
function paintStill(canvas: HTMLCanvasElement, { step, sheet }: What, before: Shown | null): Shown | null {
  const { context, fresh } = fitted(canvas);
  if (!context) return null;
  const place = placeOf(step);
  const goesOn =
    !fresh &&
    before !== null &&
    before.place.left === place.left &&
    before.place.top === place.top &&
    before.place.rem === place.rem &&
    before.strokes.every((stroke, i) => sheet.strokes[i] === stroke);
  if (!goesOn) clear(context);
  const colors = colorsNow();
  putDown(context, place);
  for (const stroke of sheet.strokes.slice(goesOn ? before.strokes.length : 0))
    fill(context, stroke.marker, colors[stroke.ink], pathFor(stroke));
  return { strokes: sheet.strokes, place };
}

/** paintLive draws what is being drawn, or where the laser is. */
function paintLive(canvas: HTMLCanvasElement, { step, tool, ink }: What, hand: Hand | null, laser: readonly Spot[]) {
  const { context } = fitted(canvas);
  if (!context) return;
  clear(context);
  const colors = colorsNow();
  const place = placeOf(step);
  if (hand && (tool === "pen" || tool === "marker")) {
    putDown(context, place);
    fill(context, tool === "marker", colors[ink], pathOf(drawn(hand.points, tool, ink, hand.pressed)));
  }
  const time = performance.now();
  context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
  context.fillStyle = colors.red;
  laser.forEach(({ x, y, at }, i) => {
    const old = i === laser.length - 1 ? 0 : Math.min(1, 0.3 + (time - at) / trail);
    context.globalAlpha = 1 - 0.8 * old;
    context.beginPath();
    context.arc(x, y, (0.4 - 0.3 * old) * place.rem, 0, 2 * Math.PI);
    context.fill();
  });
}

function fill(context: CanvasRenderingContext2D, marker: boolean, color: string, path: Path2D) {
  context.globalAlpha = marker ? seenThrough : 1;
  context.fillStyle = color;
  context.fill(path);
}

/** putDown lets the units of a step be drawn in. */
function putDown(context: CanvasRenderingContext2D, { left, top, rem }: Place) {
  const ratio = devicePixelRatio;
  context.setTransform(rem * ratio, 0, 0, rem * ratio, left * ratio, top * ratio);
}

/**
 * PenLayer lies over the page and is drawn on. What was drawn stands still on one canvas; what is being drawn, and the
 * laser, on another one, so that each frame draws one stroke however many there are. Nothing of it moves the page.
 */
export function PenLayer({ step, sheet, tool, ink, onDraw, onErase }: Props) {
  const still = useRef<HTMLCanvasElement>(null);
  const live = useRef<HTMLCanvasElement>(null);
  const hand = useRef<Hand | null>(null);
  const laser = useRef<Spot[]>([]);
  const penSeen = useRef(false);
  const frame = useRef({ still: 0, live: 0 });
  const shown = useRef<Shown | null>(null);
  const now = useRef({ step, sheet, tool, ink });
  now.current = { step, sheet, tool, ink };

  const drawStill = useCallback(() => {
    if (still.current) shown.current = paintStill(still.current, now.current, shown.current);
  }, []);
  const drawLive = useCallback(() => {
    const { tool } = now.current;
    const time = performance.now();
    // The last spot of the laser stays where the hand is.
    laser.current =
      tool === "laser" ? laser.current.filter((spot, i, all) => time - spot.at < trail || i === all.length - 1) : [];
    if (live.current) paintLive(live.current, now.current, hand.current, laser.current);
    if (laser.current.length > 1) later("live", frame, drawLive);
  }, []);

  useEffect(() => {
    const again = () => later("still", frame, drawStill);
    const anew = () => {
      shown.current = null; // another step or another theme: what stands there is no measure
      again();
    };
    anew();
    addEventListener("scroll", again, { passive: true });
    addEventListener("resize", again);
    const size = new ResizeObserver(again);
    const element = elementOf(step);
    if (element) size.observe(element);
    const theme = new MutationObserver(anew);
    theme.observe(document.documentElement, { attributeFilter: ["data-theme", "data-size"] });
    return () => {
      removeEventListener("scroll", again);
      removeEventListener("resize", again);
      size.disconnect();
      theme.disconnect();
    };
  }, [step, drawStill]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: other strokes are drawn
  useEffect(() => later("still", frame, drawStill), [sheet.strokes, drawStill]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another tool leaves nothing of what was being drawn
  useEffect(() => {
    hand.current = null;
    later("live", frame, drawLive);
  }, [tool, step, drawLive]);
  useEffect(() => {
    const frames = frame.current;
    return () => {
      cancelAnimationFrame(frames.still);
      cancelAnimationFrame(frames.live);
    };
  }, []);

  const pointOf = (event: { clientX: number; clientY: number; pressure: number }, place: Place): Point => [
    (event.clientX - place.left) / place.rem,
    (event.clientY - place.top) / place.rem,
    event.pressure,
  ];
  const erase = (event: PointerEvent) => {
    const [x, y] = pointOf(event, placeOf(step));
    const hit = sheet.strokes.filter((stroke) => touches(stroke, x, y, near));
    if (hit.length > 0) onErase(new Set(hit));
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || hand.current) return;
    penSeen.current ||= event.pointerType === "pen";
    if (penSeen.current && event.pointerType === "touch") return; // the hand that holds the pen lies on the page
    event.currentTarget.setPointerCapture(event.pointerId);
    hand.current = {
      pointer: event.pointerId,
      points: [pointOf(event, placeOf(step))],
      pressed: event.pointerType === "pen",
    };
    if (tool === "eraser") erase(event);
    later("live", frame, drawLive);
  };
  const move = (event: PointerEvent) => {
    if (tool === "laser") {
      laser.current = [...laser.current.slice(-40), { x: event.clientX, y: event.clientY, at: performance.now() }];
      return later("live", frame, drawLive);
    }
    if (hand.current?.pointer !== event.pointerId) return;
    if (tool === "eraser") return erase(event);
    const place = placeOf(step);
    const all = event.nativeEvent.getCoalescedEvents?.() ?? [];
    for (const each of all.length > 0 ? all : [event.nativeEvent]) hand.current.points.push(pointOf(each, place));
    later("live", frame, drawLive);
  };
  const up = (event: PointerEvent) => {
    if (hand.current?.pointer !== event.pointerId) return;
    const { points, pressed } = hand.current;
    hand.current = null;
    if (tool === "pen" || tool === "marker") onDraw(drawn(points, tool, ink, pressed));
    later("live", frame, drawLive);
  };
  const gone = () => {
    laser.current = [];
    later("live", frame, drawLive);
  };
  return (
    <div
      data-testid="pen-layer"
      aria-hidden="true"
      className={`screen-only fixed inset-0 z-[9] ${tool ? `touch-none ${tool === "laser" ? "cursor-none" : "cursor-crosshair"}` : "pointer-events-none"}`}
      onPointerDown={tool ? down : undefined}
      onPointerMove={tool ? move : undefined}
      onPointerUp={tool ? up : undefined}
      onPointerCancel={tool ? up : undefined}
      onPointerLeave={tool === "laser" ? gone : undefined}
    >
      <canvas ref={still} data-strokes={sheet.strokes.length} className="absolute inset-0 size-full" />
      <canvas ref={live} className="absolute inset-0 size-full" />
    </div>
  );
}

/** later draws with the next frame, once. */
function later(which: "still" | "live", frame: { current: { still: number; live: number } }, draw: () => void) {
  cancelAnimationFrame(frame.current[which]);
  frame.current[which] = requestAnimationFrame(draw);
}

/** fitted returns what a canvas is drawn with, as large as the window; fresh says that it was another size, and is blank. */
function fitted(canvas: HTMLCanvasElement): { context: CanvasRenderingContext2D | null; fresh: boolean } {
  const width = Math.round(canvas.clientWidth * devicePixelRatio);
  const height = Math.round(canvas.clientHeight * devicePixelRatio);
  const fresh = canvas.width !== width || canvas.height !== height;
  if (fresh) {
    canvas.width = width;
    canvas.height = height;
  }
  return { context: canvas.getContext("2d"), fresh };
}

function clear(context: CanvasRenderingContext2D) {
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, context.canvas.width, context.canvas.height);
}

/** colorsNow are the colours of the inks as the theme has them. */
function colorsNow(): Record<Ink, string> {
  const style = getComputedStyle(document.documentElement);
  const color = (ink: Ink) => style.getPropertyValue(inkColors[ink]);
  return { black: color("black"), red: color("red"), green: color("green") };
}
