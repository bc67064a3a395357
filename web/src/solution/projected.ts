import { createContext, useContext, useEffect, useState } from "react";

/** How many units wide pictures are drawn, so that their type is as large as it has to be; as wide as they like where undefined. */
const Context = createContext<number | undefined>(undefined);

export const FigureUnitsProvider = Context.Provider;

/** useFigureUnits returns how many units wide a picture is to be drawn, where it is projected. */
export const useFigureUnits = (): number | undefined => useContext(Context);

/** The smallest type in pictures, in their units, and which part of the height it must have when they are projected. */
const type = 11;
const part = 1 / 30;

/** figureUnits returns how wide a picture is to be drawn that takes so many pixels of a window, within what a picture can be drawn in. */
export const figureUnits = (pixels: number, height: number): number =>
  Math.round(Math.min(470, Math.max(150, (type * pixels) / (part * height))));

/** smallUnits is how wide one of two pictures is drawn that stand beside each other. */
export const smallUnits = (units: number | undefined): number => (units === undefined ? 232 : Math.round(units / 2));

/** The part of the window that a step takes beside the curve, and how wide a window must be for that, in its height. */
const stepPart = 0.55;
const wideFrom = 1.5;

/** Projected says how a step and the curve are laid out on the projector, and how wide pictures are drawn. */
export interface Projected {
  /** Whether the curve stands beside the step, not under it. */
  wide: boolean;
  /** Of pictures that have the whole width, that stand in the step beside the curve, and of the curve there. */
  whole: number;
  left: number;
  right: number;
}

/** projectedIn lays out a window. */
export function projectedIn(width: number, height: number): Projected {
  const margins = 0.14 * height; // some four letters, which grow with the height
  const units = (share: number) => figureUnits(share * width - margins, height);
  return { wide: width >= wideFrom * height, whole: units(1), left: units(stepPart), right: units(1 - stepPart) };
}

/** useProjected lays out the window as it is. */
export function useProjected(): Projected {
  const [projected, setProjected] = useState(() => projectedIn(innerWidth, innerHeight));
  useEffect(() => {
    const note = () => setProjected(projectedIn(innerWidth, innerHeight));
    addEventListener("resize", note);
    return () => removeEventListener("resize", note);
  }, []);
  return projected;
}
