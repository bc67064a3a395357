import { Fragment } from "react";

const letter = /^(\p{Script=Greek}|[A-Za-z])$/u;

/**
 * Symbols sets short mathematics: a lone letter is a variable and italic, X_M is X
 * with a subscript, H₀ stays as it is. A letter that a number is tied to is its unit.
 */
export function Symbols({ text }: { text: string }) {
  const words = text.split(/(\s+)/);
  return words.map((word, i) => {
    const [base = "", index, more] = word.split("_");
    if (letter.test(base) && index && more === undefined) {
      return (
        // biome-ignore lint/suspicious/noArrayIndexKey: the words of one text have no other name
        <span className="symbol" key={i}>
          {base}
          <sub className="not-italic">{index}</sub>
        </span>
      );
    }
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: as above
      <Fragment key={i}>
        {letter.test(word) && words[i - 1] !== "\u00a0" ? <span className="symbol">{word}</span> : word}
      </Fragment>
    );
  });
}
