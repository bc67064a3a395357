import type { Description, Kind } from "../api/types";

/** At hand is what there is to work with: a summary, counts, or variables by their kinds. */
export interface AtHand {
  form: "summary" | "counts" | "groups" | "cases";
  /** How many variables of each kind there are; none where nothing is entered yet. */
  kinds: Partial<Record<Kind, number>>;
}

type Role = Description["roles"][number];

const plural: Partial<Record<Kind, string>> = { number: "numbers", category: "categories" };
const small = ["no", "one", "two", "three", "four"];
const counted = (n: number, kind: Kind): string => `${small[n] ?? n} ${n === 1 ? kind : (plural[kind] ?? kind)}`;

/** needsOf says in words what a procedure works with. */
export function needsOf({ roles, takes }: Description): string {
  const parts = roles.map(({ kinds, min, max, levels, label }) => {
    const kind = kinds.map((each) => (max === 1 ? `a ${each}` : plural[each])).join(" or ");
    const two = levels ? ` with ${counted(levels, "category").split(" ")[0]} levels` : "";
    return `${min === 0 ? "perhaps " : ""}${kind}${two} (${label.toLowerCase()})`;
  });
  const instead = [takes.includes("summary") && "a summary", takes.includes("counts") && "counts"].filter(Boolean);
  const variables = takes.includes("variables") ? [parts.join(", ")] : [];
  return [...variables, ...instead].join("; or ");
}

/** whyNot says why a procedure does not fit what is at hand; null where it does, or where nothing is there yet. */
export function whyNot({ takes, roles }: Description, { form, kinds }: AtHand): string | null {
  if (form === "summary")
    return takes.includes("summary") ? null : "It works from the cases themselves, and a summary is given.";
  if (form === "counts")
    return takes.includes("counts") ? null : "It works from the cases themselves, and counts are given.";
  if (!takes.includes("variables")) return "It works from counts, and cases are given.";
  if (form === "groups") {
    const fits = roles.every((role) => role.id === "response" || role.id === "group" || role.min === 0);
    return fits ? null : "The data have a column a group: it needs a row for each case.";
  }
  if (Object.values(kinds).every((n) => !n)) return null;
  const only = (kind: Kind) => (role: Role) => role.kinds.length === 1 && role.kinds[0] === kind;
  for (const kind of ["number", "category"] as const) {
    const wanted = roles.filter(only(kind)).reduce((sum, role) => sum + role.min, 0);
    const there = kinds[kind] ?? 0;
    if (wanted > there) return `It needs ${counted(wanted, kind)}, and the data have ${counted(there, kind)}.`;
  }
  const wanted = roles.reduce((sum, role) => sum + role.min, 0);
  const there = (kinds.number ?? 0) + (kinds.category ?? 0);
  if (wanted > there)
    return `It needs ${small[wanted] ?? wanted} variables, and the data have ${small[there] ?? there}.`;
  return null;
}
