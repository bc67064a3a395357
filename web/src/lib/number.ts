/** readNumber reads a number as a person types it, with a decimal comma or a real minus sign; NaN where it is none. */
export function readNumber(text: string): number {
  const plain = text.trim().replace("−", "-").replace(",", ".");
  return plain === "" ? Number.NaN : Number(plain);
}

/** writeNumber writes a number for typing on. */
export const writeNumber = (x: number): string => String(x).replace("-", "−");
