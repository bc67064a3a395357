import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Quantity } from "../api/types";

/** KaTeX comes when the first formula is shown. */
async function loadKaTeX() {
  const [katex] = await Promise.all([import("katex"), import("katex/dist/katex.min.css")]);
  return katex.default;
}

const katexQuery = { queryKey: ["katex"], queryFn: loadKaTeX, staleTime: Number.POSITIVE_INFINITY };

/** mathML returns a formula as MathML, its TeX beside it as annotation. */
export async function mathML(tex: string): Promise<string> {
  const katex = await loadKaTeX();
  const html = katex.renderToString(tex, { output: "mathml", displayMode: true, throwOnError: false, strict: false });
  return /<math[\s\S]*<\/math>/.exec(html)?.[0] ?? "";
}

interface Props {
  tex: string;
  display?: boolean;
  /** Called with the reference of a number in the formula that was clicked. */
  onOpen?: (ref: string, at: Element) => void;
}

/** TeX sets a formula; until KaTeX is there it keeps the place. */
export function TeX({ tex, display = false, onOpen }: Props) {
  const { data: katex } = useQuery(katexQuery);
  const html = useMemo(
    () =>
      katex?.renderToString(tex, {
        displayMode: display,
        throwOnError: false,
        strict: false,
        trust: (context) => context.command === "\\htmlData",
      }),
    [katex, tex, display],
  );
  if (html === undefined) return <span className="inline-block min-h-[1.6em]" aria-busy="true" />;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a shortcut for the mouse; the result beside it opens by key
    // biome-ignore lint/a11y/useKeyWithClickEvents: as above
    <span
      onClick={(event) => {
        const at = (event.target as Element).closest("[data-ref]");
        if (at && onOpen) onOpen(at.getAttribute("data-ref") ?? "", at);
      }}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: KaTeX's output, which escapes what it is given
      dangerouslySetInnerHTML={{ __html: html }}
    />
  );
}

/** An input, perhaps to a power: the exponent belongs above the index of the symbol. */
const placeholder = /(?:@\{([^{}]*)\}|@\(\{([^{}]*)\}\))(\^\{\d+\})?/g;

/** texNumber returns a displayed number as TeX. */
export function texNumber(display: string): string {
  return display.replaceAll("−", "-").replaceAll("\u202f", "\\,").replaceAll("<", "\\lt ").replaceAll("×", "\\times ");
}

/** fillIn puts symbols or numbers where a printed formula names its inputs; on the page these open. */
export function fillIn(
  printed: string,
  show: "symbols" | "numbers",
  quantities: ReadonlyMap<string, Quantity>,
  opens = true,
): string {
  return printed.replace(
    placeholder,
    (_, plain: string | undefined, bracketed: string | undefined, power: string | undefined) => {
      const id = plain ?? bracketed ?? "";
      const quantity = quantities.get(id);
      if (!quantity) return "?";
      let tex = show === "symbols" ? quantity.symbol : texNumber(quantity.display);
      if (show === "numbers" && bracketed !== undefined && tex.startsWith("-")) tex = `(${tex})`;
      return opens ? `{\\htmlData{ref=${id}}{${tex}${power ?? ""}}}` : `{${tex}${power ?? ""}}`;
    },
  );
}

/** definition sets a quantity's symbol equal to its formula, unless the one is the other. */
export function definition(quantity: Quantity, quantities: ReadonlyMap<string, Quantity>, opens = true): string {
  const symbolic = quantity.formula?.symbolic ?? "";
  const bare = symbolic.replace(placeholder, (_, plain, bracketed, power) => {
    return `${quantities.get(plain ?? bracketed)?.symbol ?? ""}${power ?? ""}`;
  });
  const filled = fillIn(symbolic, "symbols", quantities, opens);
  return bare === quantity.symbol ? filled : `${quantity.symbol} = ${filled}`;
}

const escapes: Record<string, string> = {
  "\\": "\\textbackslash ",
  "^": "\\textasciicircum ",
  "~": "\\textasciitilde ",
};

/** texText sets words in a formula, such as a unit: what TeX would read in them is escaped. */
export const texText = (words: string): string =>
  `\\text{${words.replace(/[\\{}$%&#_^~]/g, (sign) => escapes[sign] ?? `\\${sign}`)}}`;

/** wholeTeX writes how a quantity comes about in one line, as other programs take it: symbols, numbers, the result. */
export function wholeTeX(quantity: Quantity, quantities: ReadonlyMap<string, Quantity>): string {
  const { formula, display, unit } = quantity;
  const relation = display.startsWith("<") ? "" : "= ";
  const result = `${relation}${texNumber(display)}${unit ? `\\,${texText(unit)}` : ""}`;
  if (!formula) return `${quantity.symbol} ${result}`;
  const numbers = fillIn(formula.numeric ?? formula.symbolic, "numbers", quantities, false);
  return `${definition(quantity, quantities, false)} = ${numbers} ${result}`;
}
