/** pointerTo returns the JSON pointer (RFC 6901) with the given steps. */
export const pointerTo = (...steps: string[]): string =>
  steps.map((step) => `/${step.replaceAll("~", "~0").replaceAll("/", "~1")}`).join("");
