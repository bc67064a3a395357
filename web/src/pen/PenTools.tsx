import { Eraser, Highlighter, Pen, Redo2, StickyNote, Target, Trash2, Undo2, X } from "lucide-react";
import type { Ink } from "../api/types";
import { useShortcuts } from "../lib/keys";
import { inkColors } from "./PenLayer";
import type { Sheet, Tool } from "./strokes";

const tools: { tool: Tool; says: string; icon: typeof Pen; key: string }[] = [
  { tool: "pen", says: "Pen", icon: Pen, key: "i" },
  { tool: "marker", says: "Marker", icon: Highlighter, key: "j" },
  { tool: "eraser", says: "Eraser", icon: Eraser, key: "q" },
  { tool: "laser", says: "Laser pointer", icon: Target, key: "w" },
];
const inks: { ink: Ink; says: string }[] = [
  { ink: "black", says: "Black ink" },
  { ink: "red", says: "Red ink" },
  { ink: "green", says: "Green ink" },
];

interface Props {
  tool: Tool | null;
  onTool: (tool: Tool | null) => void;
  ink: Ink;
  onInk: (ink: Ink) => void;
  sheet: Sheet;
  onUndo: () => void;
  onRedo: () => void;
  onClear: () => void;
  /** Keeps the drawing; undefined where nothing is kept. */
  onKeep?: () => void;
}

/** PenTools takes the pen in hand, and has what is done with what was drawn. */
export function PenTools({ tool, onTool, ink, onInk, sheet, onUndo, onRedo, onClear, onKeep }: Props) {
  useShortcuts([
    ...tools.map((each) => ({
      key: each.key,
      says: each.says,
      act: () => onTool(tool === each.tool ? null : each.tool),
    })),
    ...(tool
      ? [
          { key: "Escape", says: "Lay the pen down", act: () => onTool(null) },
          { key: "Ctrl+z", says: "Undo the last stroke", act: onUndo },
          { key: "Ctrl+y", says: "Redo the stroke", act: onRedo },
        ]
      : []),
  ]);
  if (!tool) {
    return (
      <button
        type="button"
        className="btn btn-sm max-sm:hidden"
        title="Draw over the page (i)"
        onClick={() => onTool("pen")}
      >
        <Pen size="1.1em" aria-hidden="true" />
        Pen
      </button>
    );
  }
  const none = sheet.strokes.length === 0;
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame
    <div role="group" aria-label="Pen" className="flex items-center gap-1">
      {tools.map(({ tool: each, says, icon: Icon, key }) => (
        <button
          key={each}
          type="button"
          aria-pressed={tool === each}
          aria-label={says}
          title={`${says} (${key})`}
          className={`btn btn-sm btn-square ${tool === each ? "btn-neutral" : ""}`}
          onClick={() => onTool(each)}
        >
          <Icon size="1.15em" aria-hidden="true" />
        </button>
      ))}
      <span className="mx-1.5 flex gap-1">
        {inks.map(({ ink: each, says }) => (
          <button
            key={each}
            type="button"
            aria-pressed={ink === each}
            aria-label={says}
            title={says}
            className={`btn btn-sm btn-circle btn-ghost ${ink === each ? "ring-2 ring-ink" : ""}`}
            onClick={() => onInk(each)}
          >
            <span
              className="size-[1.05rem] rounded-full"
              style={{ background: `var(${inkColors[each]})` }}
              aria-hidden="true"
            />
          </button>
        ))}
      </span>
      <Act icon={Undo2} says="Undo the last stroke" off={sheet.past.length === 0} act={onUndo} />
      <Act icon={Redo2} says="Redo the stroke" off={sheet.future.length === 0} act={onRedo} />
      <Act icon={Trash2} says="Throw away what is drawn over this step" off={none} act={onClear} />
      {onKeep && <Act icon={StickyNote} says="Keep the drawing as a note at this step" off={none} act={onKeep} />}
      <Act icon={X} says="Lay the pen down (Esc)" act={() => onTool(null)} />
    </div>
  );
}

interface ActProps {
  icon: typeof Pen;
  says: string;
  off?: boolean;
  act: () => void;
}

function Act({ icon: Icon, says, off = false, act }: ActProps) {
  return (
    <button type="button" className="btn btn-sm btn-square" aria-label={says} title={says} disabled={off} onClick={act}>
      <Icon size="1.15em" aria-hidden="true" />
    </button>
  );
}
