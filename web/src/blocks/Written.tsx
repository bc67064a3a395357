import { Markdown } from "../lib/Markdown";
import { piecesOf } from "../notes/notes";
import { TeX } from "./TeX";

const headings = {
  1: { tag: "h2", look: "mt-3 font-semibold font-serif text-[1.35rem]" },
  2: { tag: "h3", look: "mt-2 font-semibold text-[1.1rem]" },
  3: { tag: "h4", look: "mt-1 font-semibold" },
} as const;

/** Written sets a person's text: its paragraphs and headings, emphasis, and formulas between dollar signs. */
export function Written({ text }: { text: string }) {
  return text.split(/\n\s*\n/).map((paragraph, i) => {
    const heading = /^(#{1,6}) +(\S.*)$/.exec(paragraph.trim());
    const { tag: Tag, look } = heading
      ? headings[Math.min(3, (heading[1] ?? "").length) as 1 | 2 | 3]
      : ({ tag: "p", look: "" } as const);
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: a paragraph is its place in the text
      <Tag key={i} className={look}>
        {piecesOf(heading?.[2] ?? paragraph).map((piece, j) =>
          "tex" in piece ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: as above
            <TeX key={j} tex={piece.tex} />
          ) : (
            // biome-ignore lint/suspicious/noArrayIndexKey: as above
            <Markdown key={j} text={piece.words} inline />
          ),
        )}
      </Tag>
    );
  });
}
