import type { Piece, Prose } from "../api/types";
import { CopyButton } from "../app/CopyButton";
import { CopyCorner } from "../app/CopyCorner";
import { KeepButton } from "../kept/KeepButton";
import { copyRich } from "../lib/copy";
import { run } from "../lib/report";
import { useSolution } from "../solution/solution";
import { NumberButton } from "./Number";
import { Symbols } from "./Symbols";

/** TextView sets a run of words, symbols and numbers that open. */
export function TextView({ text }: { text: Piece[] }) {
  return text.map((piece, i) => {
    // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of one text have no other name
    if (piece.ref) return <NumberButton key={i} id={piece.ref} words={piece.words} />;
    const words = piece.words ?? "";
    switch (piece.style) {
      case "strong":
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        return <strong key={i}>{words}</strong>;
      case "emphasis":
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        return <em key={i}>{words}</em>;
      case "symbol":
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        return <Symbols key={i} text={words} />;
      default:
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        return <span key={i}>{words}</span>;
    }
  });
}

/** ProseView is a paragraph in its tone. */
export function ProseView({ block }: { block: Prose }) {
  switch (block.tone) {
    case "answer":
      return (
        <CopyCorner
          menu={
            <>
              <CopySentence text={block.text} />
              <KeepButton at="sentence/conclusion" what="the sentence that answers the problem" />
            </>
          }
        >
          <p className="rounded-box border border-ink bg-sheet px-4 py-3 font-serif text-[1.2rem] leading-snug">
            <TextView text={block.text} />
          </p>
        </CopyCorner>
      );
    case "caution":
      return (
        <p className="border-region border-l-2 pl-3 text-muted">
          <span className="font-semibold text-(--region-text)">Not to be misread. </span>
          <TextView text={block.text} />
        </p>
      );
    case "aside":
      return (
        <p className="text-muted">
          <TextView text={block.text} />
        </p>
      );
    default:
      return (
        <p>
          <TextView text={block.text} />
        </p>
      );
  }
}

/** CopySentence copies a sentence with its italics and indices. */
function CopySentence({ text }: { text: Piece[] }) {
  const { quantities } = useSolution();
  const copy = () => {
    const { plain, html } = run(text, quantities);
    return copyRich(plain, html);
  };
  return <CopyButton label="Copy the sentence" copy={copy} />;
}
