import type { Part, ReportProblem } from "../api/types";

/** What a person writes of a report. */
export interface Written {
  title: string;
  parts: readonly Part[];
}

/** withParagraph returns the parts with an empty paragraph before that place, which quotes numbers of the problem next to it. */
export function withParagraph(parts: readonly Part[], at: number, id: string): Part[] {
  const near = parts.slice(0, at).findLast((part) => part.problem) ?? parts.slice(at).find((part) => part.problem);
  const paragraph: Part = { id, text: "", ...(near?.problem ? { problem: near.problem } : {}) };
  return [...parts.slice(0, at), paragraph, ...parts.slice(at)];
}

/** rewritten returns the parts with other words in a paragraph: how it reads is noted anew. */
export const rewritten = (parts: readonly Part[], id: string, change: Partial<Part>): Part[] =>
  parts.map((part) => {
    if (part.id !== id) return part;
    const { was: _, ...rest } = part;
    return { ...rest, ...change };
  });

/** seen returns the parts with that one as it reads now. */
export const seen = (parts: readonly Part[], id: string, now: string): Part[] =>
  parts.map((part) => (part.id === id ? { ...part, was: now } : part));

/** without returns the parts without one of them. */
export const without = (parts: readonly Part[], id: string): Part[] => parts.filter((part) => part.id !== id);

/** learnt returns what is written with how its parts read, which the server has noted of those that did not say. */
export function learnt(written: Written, kept: readonly Part[]): Written {
  const was = new Map(kept.map((part) => [part.id, part]));
  let any = false;
  const parts = written.parts.map((part) => {
    const noted = was.get(part.id);
    if (part.was || !noted?.was || part.text !== noted.text || part.problem !== noted.problem) return part;
    any = true;
    return { ...part, was: noted.was };
  });
  return any ? { ...written, parts } : written;
}

/** over puts what was changed here since kept over theirs: what was kept elsewhere meanwhile is added, what was taken away there goes. */
export function over(mine: Written, kept: Written, theirs: Written): Written {
  const known = new Map(kept.parts.map((part) => [part.id, part]));
  const there = new Set(theirs.parts.map((part) => part.id));
  const here = new Set(mine.parts.map((part) => part.id));
  const stays = (part: Part) => there.has(part.id) || known.get(part.id) !== part; // as one that was written on here does
  const added = theirs.parts.filter((part) => !known.has(part.id) && !here.has(part.id));
  return {
    title: mine.title === kept.title ? theirs.title : mine.title,
    parts: [...mine.parts.filter(stays), ...added],
  };
}

/** alike tells whether two say the same. */
export const alike = (a: Written, b: Written): boolean =>
  a.title === b.title &&
  a.parts.length === b.parts.length &&
  a.parts.every((part, i) => {
    const other = b.parts[i];
    return (
      part === other ||
      (part.id === other?.id && part.text === other.text && part.problem === other.problem && part.at === other.at)
    );
  });

/** The problem a paragraph quotes from: its own, or the only one that there is. */
export const quotedOf = (part: Part, problems: readonly ReportProblem[]): ReportProblem | undefined =>
  problems.find((problem) => problem.id === part.problem) ?? (part.problem ? undefined : problems[0]);
