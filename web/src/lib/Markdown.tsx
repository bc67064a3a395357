import { compiler } from "markdown-to-jsx/react";

/** Markdown sets a question's text. HTML in it stays text. */
export function Markdown({ text, inline = false }: { text: string; inline?: boolean }) {
  return compiler(inline ? text.replaceAll(/\s+/g, " ") : text, {
    disableParsingRawHTML: true,
    forceInline: inline,
    forceBlock: !inline,
    wrapper: null,
  });
}
