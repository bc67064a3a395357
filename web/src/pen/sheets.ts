import { useCallback, useEffect, useRef, useState } from "react";
import { blankSheet, type Drawn, type Sheet } from "./strokes";

/** Sheets are what was drawn over the steps of a problem, by step. */
type Sheets = Readonly<Record<string, Sheet>>;

const key = (problem: string): string => `grund.drawn.${problem}`;

/** drawnBefore returns what was drawn in this window over the steps of a problem, as far as the browser still has it. */
export function drawnBefore(problem: string): Sheets {
  try {
    const kept = JSON.parse(sessionStorage.getItem(key(problem)) ?? "{}") as Record<string, Drawn[]>;
    return Object.fromEntries(Object.entries(kept).map(([step, strokes]) => [step, { ...blankSheet, strokes }]));
  } catch {
    return {}; // written by something else
  }
}

/** noteDrawn remembers what is drawn, until the window closes; the browser may have no room for all of it. */
function noteDrawn(problem: string, sheets: Sheets) {
  const strokes = Object.entries(sheets).flatMap(([step, sheet]) =>
    sheet.strokes.length > 0 ? [[step, sheet.strokes]] : [],
  );
  try {
    if (strokes.length === 0) sessionStorage.removeItem(key(problem));
    else sessionStorage.setItem(key(problem), JSON.stringify(Object.fromEntries(strokes)));
  } catch {
    // what is on the page is there all the same
  }
}

/** useSheets holds what is drawn over the steps of a problem; it is there again when the page is. */
export function useSheets(problem: string): {
  sheetOf: (step: string) => Sheet;
  change: (step: string, next: (sheet: Sheet) => Sheet) => void;
} {
  const [sheets, setSheets] = useState<Sheets>(() => drawnBefore(problem));
  const now = useRef(sheets);
  now.current = sheets;
  useEffect(() => {
    const note = () => noteDrawn(problem, now.current);
    addEventListener("pagehide", note);
    return () => {
      removeEventListener("pagehide", note);
      note();
    };
  }, [problem]);
  const sheetOf = (step: string) => sheets[step] ?? blankSheet;
  const change = useCallback((step: string, next: (sheet: Sheet) => Sheet) => {
    setSheets((all) => {
      const before = all[step] ?? blankSheet;
      const after = next(before);
      return after === before ? all : { ...all, [step]: after };
    });
  }, []);
  return { sheetOf, change };
}
