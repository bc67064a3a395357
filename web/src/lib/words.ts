/** upperFirst writes a text as a sentence begins. */
export const upperFirst = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** lowerFirst writes a text as it stands inside a sentence. */
export const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);

/** whole writes a whole number, its thousands parted by thin spaces from five digits on. */
export const whole = (n: number): string => (n < 10_000 ? String(n) : String(n).replace(/\B(?=(\d{3})+$)/g, "\u2009"));

/** counted writes a number of things: 1 row, 12 rows. */
export const counted = (n: number, thing: string, things = `${thing}s`): string =>
  `${whole(n)} ${n === 1 ? thing : things}`;

/** mistakeSentence says what is wrong, and the way out where there is one. */
export function mistakeSentence({ says, instead }: { says: string; instead?: string }): string {
  const all = upperFirst(instead ? `${says}: ${instead}` : says);
  return /[.?!]$/.test(all) ? all : `${all}.`;
}
