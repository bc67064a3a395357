/** A value of the calculator: a number, or a column of them. */
type Value = number | readonly number[];

/** The columns of the data by the names under which they stand in an expression. */
export type Columns = ReadonlyMap<string, readonly number[]>;

/** CalculationError says what of an expression cannot be worked out. */
export class CalculationError extends Error {}

type Token = { kind: "number"; value: number } | { kind: "name" | "column" | "sign"; text: string };

const numberAt = /^(\d+(?:[.,]\d+)?|[.,]\d+)(?:[eE]([+-]?\d+))?/;
const nameAt = /^[a-zA-Zα-ωΣ√]+/;

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  let rest = text.trimStart();
  while (rest !== "") {
    const number = numberAt.exec(rest);
    const name = nameAt.exec(rest);
    if (number) {
      tokens.push({ kind: "number", value: Number(number[0].replace(",", ".")) });
      rest = rest.slice(number[0].length);
    } else if (rest.startsWith("[")) {
      const end = rest.indexOf("]");
      if (end < 0) throw new CalculationError("A bracket [ is not closed.");
      tokens.push({ kind: "column", text: rest.slice(1, end).trim() });
      rest = rest.slice(end + 1);
    } else if (name) {
      tokens.push({ kind: "name", text: name[0].toLowerCase() });
      rest = rest.slice(name[0].length);
    } else {
      const sign = rest[0] as string;
      const plain = { "−": "-", "–": "-", "×": "*", "·": "*", "÷": "/", ":": "/" }[sign] ?? sign;
      if (!"+-*/^()²".includes(plain)) throw new CalculationError(`“${sign}” is no sign that the calculator knows.`);
      tokens.push({ kind: "sign", text: plain });
      rest = rest.slice(1);
    }
    rest = rest.trimStart();
  }
  return tokens;
}

const each = (a: Value, b: Value, of: (x: number, y: number) => number): Value => {
  if (typeof a === "number" && typeof b === "number") return of(a, b);
  const length = typeof a === "number" ? (b as readonly number[]).length : a.length;
  if (typeof a !== "number" && typeof b !== "number" && a.length !== b.length)
    throw new CalculationError("The two columns have not as many cells.");
  const at = (value: Value, i: number) => (typeof value === "number" ? value : (value[i] as number));
  return Array.from({ length }, (_, i) => of(at(a, i), at(b, i)));
};

const listOf = (value: Value): readonly number[] => (typeof value === "number" ? [value] : value);
const sum = (value: Value): number => listOf(value).reduce((total, x) => total + x, 0);

/** What stands before brackets. */
const functions: Record<string, (value: Value) => Value> = {
  sqrt: (value) => each(value, 0, (x) => Math.sqrt(x)),
  "√": (value) => each(value, 0, (x) => Math.sqrt(x)),
  abs: (value) => each(value, 0, (x) => Math.abs(x)),
  sum,
  σ: sum, // Σ, as it stands in small letters
  count: (value) => listOf(value).length,
};

/**
 * calculate works out an expression: numbers with a point or a comma, + − × ÷, powers and ², √ and sqrt, brackets, sums
 * over columns of the data as sum([name]), and ans, which was found last.
 */
export function calculate(text: string, columns: Columns, last = Number.NaN): number {
  const tokens = tokensOf(text);
  let at = 0;
  const peek = () => tokens[at];
  const takes = (sign: string) => {
    const token = peek();
    if (token?.kind !== "sign" || token.text !== sign) return false;
    at++;
    return true;
  };
  function total(): Value {
    let value = product();
    for (;;) {
      if (takes("+")) value = each(value, product(), (x, y) => x + y);
      else if (takes("-")) value = each(value, product(), (x, y) => x - y);
      else return value;
    }
  }
  function product(): Value {
    let value = signed();
    for (;;) {
      if (takes("*")) value = each(value, signed(), (x, y) => x * y);
      else if (takes("/")) value = each(value, signed(), (x, y) => x / y);
      else return value;
    }
  }
  function signed(): Value {
    if (takes("-")) return each(0, signed(), (x, y) => x - y);
    if (takes("+")) return signed();
    return power();
  }
  function power(): Value {
    let value = atom();
    for (;;) {
      if (takes("²")) value = each(value, 2, (x, y) => x ** y);
      else if (takes("^")) return each(value, signed(), (x, y) => x ** y);
      else return value;
    }
  }
  function atom(): Value {
    const token = peek();
    if (!token) throw new CalculationError("Something is missing at the end.");
    at++;
    if (token.kind === "number") return token.value;
    if (token.kind === "column") {
      const column = columns.get(token.text);
      if (!column) throw new CalculationError(`There is no column “${token.text}”.`);
      return column;
    }
    if (token.kind === "sign") {
      if (token.text !== "(") throw new CalculationError(`A number is missing before “${token.text}”.`);
      const value = total();
      if (!takes(")")) throw new CalculationError("A bracket ( is not closed.");
      return value;
    }
    if (token.text === "ans") {
      if (Number.isNaN(last)) throw new CalculationError("Nothing was worked out yet.");
      return last;
    }
    const of = functions[token.text];
    if (!of) throw new CalculationError(`The calculator does not know “${token.text}”.`);
    return of(power());
  }
  const value = total();
  if (at < tokens.length) throw new CalculationError("A sign is missing between two numbers.");
  if (typeof value !== "number") throw new CalculationError("That is a whole column: say sum( … ) of it.");
  if (!Number.isFinite(value))
    throw new CalculationError("That is no number: look for a division by 0 or the root of less.");
  return value;
}

/** writeResult writes a result to be read and typed on: ten digits, without what binary arithmetic adds. */
export function writeResult(x: number): string {
  if (x === 0) return "0";
  const size = Math.abs(x);
  const text = size >= 1e10 || size < 1e-6 ? x.toExponential(6) : String(Number(x.toPrecision(10)));
  return text.replace("-", "−");
}

/** writeAnswer writes a result as an answer: with six digits, more than is asked for anywhere. */
export const writeAnswer = (x: number): string => writeResult(Number(x.toPrecision(6)));
