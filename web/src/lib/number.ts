/** readNumber reads a number as a person types it, with a decimal comma or a real minus sign; NaN where it is none. */
export function readNumber(text: string): number {
  const plain = text.trim().replace("−", "-").replace(",", ".");
  return plain === "" ? Number.NaN : Number(plain);
}

/** writeNumber writes a number for typing on. */
export const writeNumber = (x: number): string => String(x).replace("-", "−");

/** measured writes a number of a case to be read: one with very many digits is a result of arithmetic, and five tell enough. */
export const measured = (x: number): string => writeNumber(String(x).length > 10 ? Number(x.toPrecision(5)) : x);

/**
 * fixed writes a number with so many decimals. As in all that is shown, a tie is rounded away from
 * zero, on the decimal that the number is written with: 2.675 with two decimals is 2.68.
 */
export function fixed(x: number, decimals: number): string {
  const [mantissa, exponent] = Math.abs(x).toExponential().split("e");
  const shifted = Math.round(Number(`${mantissa}e${Number(exponent) + decimals}`));
  if (!Number.isSafeInteger(shifted)) return x.toFixed(decimals).replace("-", "−");
  const sign = x < 0 && shifted > 0 ? "−" : "";
  return sign + Number(`${shifted}e${-decimals}`).toFixed(decimals);
}

/** readNumbers reads a list of numbers, parted by semicolons, colons, spaces, or commas with a space; null where it is none. */
export function readNumbers(text: string): number[] | null {
  const parts = text
    .trim()
    .split(/\s*[;:]\s*|,\s+|\s+/)
    .filter((part) => part !== "");
  const numbers = parts.map(readNumber);
  return numbers.length > 0 && numbers.every(Number.isFinite) ? numbers : null;
}

/** readRows reads lists, a line each, their parts parted by semicolons or commas with a space; null where there are none. */
function readRows<T>(text: string, read: (part: string) => T): T[][] | null {
  const rows = text
    .split("\n")
    .filter((line) => line.trim() !== "")
    .map((line) =>
      line
        .split(/;|,\s+|\t/)
        .map((part) => part.trim())
        .filter((part) => part !== "")
        .map(read),
    );
  return rows.length > 0 ? rows : null;
}

/** readPlaces reads lines of numbers and of words, as “36; 4,5; Puffin”. */
export const readPlaces = (text: string): (number | string)[][] | null =>
  readRows(text, (part) => (Number.isFinite(readNumber(part)) ? readNumber(part) : part));

/** readNames reads lines of names, as “minutes; wind”. */
export const readNames = (text: string): string[][] | null => readRows(text, (part) => part);

/** readNamed reads numbers by name, as “mean = 12; sd = 3”; null where it is nothing like that. */
export function readNamed(text: string): Record<string, number> | null {
  const named: Record<string, number> = {};
  for (const part of text.split(/[;\n]|,\s+/)) {
    if (part.trim() === "") continue;
    const [name = "", value = ""] = part.split(/=|:/).map((piece) => piece.trim());
    if (name === "" || !Number.isFinite(readNumber(value))) return null;
    named[name] = readNumber(value);
  }
  return Object.keys(named).length > 0 ? named : null;
}

/** writeValue writes numbers, a list of them, lists in lines or numbers by name, for typing on. */
export function writeValue(value: unknown): string {
  if (Array.isArray(value) && value.some(Array.isArray)) return value.map(writeValue).join("\n");
  if (Array.isArray(value)) return value.map((x) => (typeof x === "number" ? writeNumber(x) : String(x))).join("; ");
  if (value !== null && typeof value === "object") {
    return Object.entries(value)
      .map(([name, x]) => `${name} = ${typeof x === "number" ? writeNumber(x) : x}`)
      .join("; ");
  }
  return String(value ?? "");
}

/** The most classes that are made at once. */
const mostClasses = 100;

/**
 * evenBoundaries returns boundaries of one width from start up to the first that is not
 * below end, or says what is wrong. There are three at least.
 */
export function evenBoundaries(start: number, width: number, end: number): number[] | string {
  if (!Number.isFinite(start) || !Number.isFinite(width)) return "Numbers are needed here.";
  if (width <= 0) return "The width must be above 0.";
  const count = Math.max(2, Math.ceil((end - start) / width - 1e-9));
  if (count > mostClasses) return `That makes ${count} classes; ${mostClasses} are the most.`;
  // Rounded to what was typed: 0.1 + 0.2 is 0.3.
  return Array.from({ length: count + 1 }, (_, i) => Number((start + i * width).toPrecision(12)));
}
