import { type ReactNode, useCallback, useState } from "react";
import type { Ink } from "../api/types";
import { useToast } from "../app/toasts";
import { useRemembered } from "../lib/remembered";
import { useNotes } from "../notes/useNotes";
import { useKeepsNotes } from "../solution/solution";
import { PenLayer } from "./PenLayer";
import { PenTools } from "./PenTools";
import { useSheets } from "./sheets";
import { type Drawn, mostStrokes, pictureOf, redone, type Tool, undone, withStrokes } from "./strokes";

interface Props {
  problem: string;
  /** The step in hand. */
  step: string;
  /** Lays out the tools. */
  children: (tools: ReactNode) => ReactNode;
}

/** Pen lets the page be drawn over while a step is in hand. */
export function Pen({ problem, step, children }: Props) {
  const [tool, setTool] = useState<Tool | null>(null);
  const [ink, setInk] = useRemembered<Ink>("ink", "red");
  const { sheetOf, change } = useSheets(problem);
  const { notes, add } = useNotes();
  const keepsNotes = useKeepsNotes();
  const toast = useToast();
  const sheet = sheetOf(step);
  const draw = useCallback(
    (stroke: Drawn) =>
      change(step, (before) =>
        before.strokes.length < mostStrokes ? withStrokes(before, [...before.strokes, stroke]) : before,
      ),
    [change, step],
  );
  const full = () => toast({ says: `${mostStrokes} strokes are as many as a step takes. Throw some away.`, bad: true });
  const erase = useCallback(
    (strokes: ReadonlySet<Drawn>) =>
      change(step, (before) =>
        withStrokes(
          before,
          before.strokes.filter((stroke) => !strokes.has(stroke)),
        ),
      ),
    [change, step],
  );
  const keep = () => {
    const rem = Number.parseFloat(getComputedStyle(document.documentElement).fontSize);
    const before = notes.length;
    if (!add({ at: `step/${step}`, text: "", drawing: pictureOf(sheet.strokes, rem) })) {
      toast({ says: `There are ${before} notes, as many as a problem takes. Take some of them away.`, bad: true });
      return;
    }
    change(step, (drawn) => withStrokes(drawn, []));
    toast({ says: "The drawing is kept as a note at this step." });
  };
  return (
    <>
      <PenLayer
        step={step}
        sheet={sheet}
        tool={tool}
        ink={ink}
        onDraw={sheet.strokes.length < mostStrokes ? draw : full}
        onErase={erase}
      />
      {children(
        <PenTools
          tool={tool}
          onTool={setTool}
          ink={ink}
          onInk={setInk}
          sheet={sheet}
          onUndo={() => change(step, undone)}
          onRedo={() => change(step, redone)}
          onClear={() => change(step, (before) => withStrokes(before, []))}
          onKeep={keepsNotes ? keep : undefined}
        />,
      )}
    </>
  );
}
