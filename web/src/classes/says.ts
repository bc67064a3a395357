import type { RequestError } from "../api/client";
import { mistakeSentence } from "../lib/words";

/** saysOf are the sentences of what is wrong with a field. */
export const saysOf = (error: Error | null, pointer: string): string | undefined => {
  const mistake = (error as RequestError | null)?.mistakes?.find((each) => each.pointer.startsWith(pointer));
  return mistake && mistakeSentence(mistake);
};
