import { compiler } from "markdown-to-jsx/react";

/** Pictures would be fetched from wherever whoever wrote the text likes: what they are called stands in their place. */
const overrides = { img: ({ alt }: { alt?: string }) => <>{alt}</> };

/** Markdown sets a question's text. HTML in it stays text. */
export function Markdown({ text, inline = false }: { text: string; inline?: boolean }) {
  return compiler(inline ? text.replaceAll(/\s+/g, " ") : text, {
    disableParsingRawHTML: true,
    forceInline: inline,
    forceBlock: !inline,
    wrapper: null,
    overrides,
  });
}
