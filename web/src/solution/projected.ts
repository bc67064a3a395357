import { createContext, useContext, useEffect, useState } from "react";

/** How many units wide pictures are drawn, so that their type is as large as it has to be; as wide as they like where undefined. */
const Context = createContext<number | undefined>(undefined);

export const FigureUnitsProvider = Context.Provider;

/** useFigureUnits returns how many units wide a picture is to be drawn, where it is projected. */
export const useFigureUnits = (): number | undefined => useContext(Context);

/** The type in pictures, in their units, and which part of the height it must have when they are projected. */
const type = 12;
const part = 1 / 30;

/** figureUnits returns how wide a picture is to be drawn that takes so many pixels of a window, within what a picture can be drawn in. */
export const figureUnits = (pixels: number, height: number): number =>
  Math.round(Math.min(470, Math.max(200, (type * pixels) / (part * height))));

/** useProjected returns how wide pictures are to be drawn in columns that take these parts of the window. */
export function useProjected(parts: readonly number[]): number[] {
  const [size, setSize] = useState({ width: innerWidth, height: innerHeight });
  useEffect(() => {
    const note = () => setSize({ width: innerWidth, height: innerHeight });
    addEventListener("resize", note);
    return () => removeEventListener("resize", note);
  }, []);
  const margins = 0.14 * size.height; // some four letters, which grow with the height
  return parts.map((each) => figureUnits(each * size.width - margins, size.height));
}
