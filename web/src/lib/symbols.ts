/** SymbolPart is a piece of short mathematics: words, or a variable with its index. */
export interface SymbolPart {
  words: string;
  variable: boolean;
  index?: string;
}

const letter = /^(\p{Script=Greek}|[A-Za-z])$/u;

/**
 * symbolParts reads short mathematics: a lone letter is a variable, X_M is X with an index, H₀ stays as it is. A letter
 * that a number is tied to is its unit.
 */
export function symbolParts(text: string): SymbolPart[] {
  const words = text.split(/(\s+)/);
  return words.map((word, i) => {
    const [base = "", index, more] = word.split("_");
    if (letter.test(base) && index && more === undefined) return { words: base, variable: true, index };
    return { words: word, variable: letter.test(word) && words[i - 1] !== "\u00a0" };
  });
}
