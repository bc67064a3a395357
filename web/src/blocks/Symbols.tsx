import { Fragment } from "react";
import { symbolParts } from "../lib/symbols";

/** Symbols sets short mathematics: variables italic, what is written behind _ as an index. */
export function Symbols({ text }: { text: string }) {
  return symbolParts(text).map((part, i) =>
    part.variable ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: the words of one text have no other name
      <span className="symbol" key={i}>
        {part.words}
        {part.index && <sub className="not-italic">{part.index}</sub>}
      </span>
    ) : (
      // biome-ignore lint/suspicious/noArrayIndexKey: as above
      <Fragment key={i}>{part.words}</Fragment>
    ),
  );
}
