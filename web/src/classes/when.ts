const dayAndTime = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  month: "short",
  hour: "2-digit",
  minute: "2-digit",
});

/** when writes a time. */
export const when = (time: string): string => dayAndTime.format(new Date(time));

/** dueIn says when something is due: by a time, or since when it is. */
export function dueIn(due: string, now = Date.now()): string {
  return new Date(due).getTime() < now ? `was due ${when(due)}` : `due ${when(due)}`;
}

/** ago says how long ago a time was, in words. */
export function ago(time: string, now = Date.now()): string {
  const minutes = Math.max(0, Math.round((now - new Date(time).getTime()) / 60_000));
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${hours} h ago` : when(time);
}

/** toField writes a time as a field for it takes it, in the time of the browser; "" where there is none. */
export function toField(time: string | undefined | null): string {
  if (!time) return "";
  const at = new Date(time);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** fromField reads a time from a field; undefined where there is none. */
export function fromField(text: string): string | undefined {
  const at = new Date(text);
  return text === "" || Number.isNaN(at.getTime()) ? undefined : at.toISOString();
}

/** opensWords says when a set that is not open yet opens; "" of one that is. */
export const opensWords = (opens: string | null, now = Date.now()): string =>
  opens && new Date(opens).getTime() > now ? `opens ${when(opens)}` : "";
