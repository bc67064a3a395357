/** Numerals are how numbers are written for reading: the decimal mark, and the zero before it where nothing can be above 1. */
export interface Numerals {
  mark: "point" | "comma";
  zero: "kept" | "dropped";
}

/** The fields of a solution that hold text for reading, and those that hold mathematics in TeX. */
const textFields = new Set(
  (
    "display words shown says reads title label key reason conclusion report rounding compare how assumes notes text " +
    "name basis"
  ).split(" "),
);
const teXFields = new Set(["symbolic", "numeric", "formula", "symbols"]);

/** What cannot be above 1, by the ids that quantities and columns have for it. */
const bounded =
  /^(p|p_.*|w|r|r_squared|adjusted_r_squared|share|proportion(_\d)?|pooled_proportion|eta_squared|omega_squared|phi|cramers_v)$/;
const withoutZero = (shown: string): string => shown.replace(/(^|[−<\s\u202f])0\.(?=\d)/, "$1.");
/** “p = 0.05” and “r = 0.7” in words; α is left as it was chosen. */
const namedInWords = /\b([pr]|R²|r²)(\s*[=<>≤]\s*[\u202f−]?)0\.(?=\d)/g;
const pointInNumber = /(\d)\.(?=\d)/g;

/** inNumerals returns a solution, or a part of one, with its numbers written so; itself where nothing is to be changed. */
export function inNumerals<T>(part: T, { mark, zero }: Numerals): T {
  if (mark === "point" && zero === "kept") return part;
  const text = (words: string, drop: boolean): string => {
    let out = zero === "dropped" ? words.replace(namedInWords, "$1$2.") : words;
    if (drop) out = withoutZero(out);
    return mark === "comma" ? out.replace(pointInNumber, "$1,").replace(/(^|[−<=\s\u202f])\.(?=\d)/g, "$1,") : out;
  };
  const walk = (value: unknown, field: string, drop: boolean): unknown => {
    if (typeof value === "string") {
      if (textFields.has(field)) return text(value, drop);
      if (teXFields.has(field) && mark === "comma") return value.replace(pointInNumber, "$1{,}");
      return value;
    }
    if (Array.isArray(value)) return value.map((each) => walk(each, field, drop));
    if (typeof value !== "object" || value === null) return value;
    const object = value as Record<string, unknown>;
    const dropped = zero === "dropped" && "display" in object && bounded.test(String(object.id));
    const columns = zero === "dropped" && Array.isArray(object.columns) ? (object.columns as { id: string }[]) : null;
    return Object.fromEntries(
      Object.entries(object).map(([name, each]) => {
        if (name === "shown" && columns && Array.isArray(each)) {
          return [
            name,
            (each as string[][]).map((row) => row.map((cell, j) => text(cell, bounded.test(columns[j]?.id ?? "")))),
          ];
        }
        return [name, walk(each, name, dropped && name === "display")];
      }),
    );
  };
  return walk(part, "", false) as T;
}

/** axisNumber writes a number of an axis as the text writes it: a real minus sign, thin spaces from 10 000 on. */
export function axisNumber(text: string, mark: Numerals["mark"] = "point"): string {
  const [whole = "", fraction] = text.replaceAll(",", "").replace(/^[-−]/, "").split(".");
  const sign = /^[-−]/.test(text) ? "−" : "";
  const grouped = /^\d{5,}$/.test(whole) ? whole.replace(/\B(?=(\d{3})+$)/g, "\u202f") : whole;
  return sign + grouped + (fraction === undefined ? "" : `${mark === "comma" ? "," : "."}${fraction}`);
}
