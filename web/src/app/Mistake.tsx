import type { RequestError } from "../api/client";
import { mistakeSentence } from "../lib/words";

/** Mistake says what was wrong with what was sent, and the way out. */
export function Mistake({ error }: { error: RequestError | Error | null }) {
  if (!error) return null;
  const mistakes = "mistakes" in error ? error.mistakes : [];
  return (
    <p role="alert" className="border-region border-l-2 pl-3 text-(--region-text)">
      {mistakes.length > 0 ? mistakes.map(mistakeSentence).join(" ") : error.message}
    </p>
  );
}
