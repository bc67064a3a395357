import type { AttemptView, Standings } from "../api/types";

/** How what goes on in a class reaches the page. */
export interface Wire {
  /** Fetches where the class stands: all of it, or what went on since a time. */
  fetch: (since?: string) => Promise<Standings>;
  /** Calls told whenever something went on; returns what ends it. */
  listen: (told: () => void) => () => void;
  /** Waits so many milliseconds. */
  wait: (time: number) => Promise<void>;
}

export interface Seen {
  standings: Standings | null;
  /** Why what is shown may be out of date, "" where it is not. */
  trouble: string;
}

/** How long to wait after a failure, and how often all is fetched anew: who does nothing is told of by nobody. */
const again = 3000;
const calm = 60_000;

/**
 * Watching keeps up with a class: it fetches what went on whenever it is told that something did, one request at a time, so
 * that whatever comes while one is under way is fetched by the next.
 */
export class Watching {
  #wire: Wire;
  #seen: Seen = { standings: null, trouble: "" };
  #listeners = new Set<() => void>();
  #running = false;
  #wanted: "nothing" | "news" | "all" = "nothing";
  #ended = true;
  #end = () => {};

  constructor(wire: Wire) {
    this.#wire = wire;
  }

  get seen(): Seen {
    return this.#seen;
  }

  subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** start begins to watch; what it returns ends it. */
  start = (): (() => void) => {
    this.#ended = false;
    const end = this.#wire.listen(() => this.#ask("news"));
    const timer = setInterval(() => this.#ask("all"), calm);
    this.#end = () => {
      end();
      clearInterval(timer);
    };
    this.#ask("all");
    return () => {
      this.#ended = true;
      this.#end();
    };
  };

  /** refresh fetches all of it. */
  refresh = () => this.#ask("all");

  #ask(what: "news" | "all") {
    if (this.#wanted !== "all") this.#wanted = what;
    void this.#run();
  }

  async #run() {
    if (this.#running) return;
    this.#running = true;
    while (this.#wanted !== "nothing" && !this.#ended) {
      const { standings } = this.#seen;
      const since = this.#wanted === "news" && standings ? standings.at : undefined;
      this.#wanted = "nothing";
      try {
        const fresh = await this.#wire.fetch(since);
        if (this.#ended) break;
        this.#set({ standings: since && standings ? merged(standings, fresh) : fresh, trouble: "" });
      } catch (error) {
        if (this.#ended) break;
        this.#set({ ...this.#seen, trouble: error instanceof Error ? error.message : String(error) });
        await this.#wire.wait(again);
        this.#wanted = "all";
      }
    }
    this.#running = false;
  }

  #set(seen: Seen) {
    this.#seen = seen;
    for (const listener of this.#listeners) listener();
  }
}

/** merged puts what went on over what was known. */
export function merged(known: Standings, fresh: Standings): Standings {
  const attempts = new Map<string, AttemptView>(known.attempts.map((each) => [each.id, each]));
  for (const attempt of fresh.attempts) attempts.set(attempt.id, attempt);
  return {
    ...fresh,
    problems: known.problems,
    attempts: [...attempts.values()],
    slips: { ...known.slips, ...fresh.slips },
  };
}

/** A slip that was made, by whom. */
export interface Slip {
  slip: string;
  ask: string;
  label: string;
  problem: string;
  says: string;
  students: string[];
}

/** slipsOf are the slips that were made, those of most students first. */
export function slipsOf({ attempts, problems, slips }: Standings): Slip[] {
  const found = new Map<string, Slip>();
  for (const attempt of attempts) {
    const problem = problems.find((each) => each.id === attempt.problem);
    if (!problem) continue; // it was taken out
    for (const { ask, slip } of attempt.standing.slips) {
      const key = `${attempt.problem} ${ask} ${slip}`;
      const label = problem.asks.find((each) => each.id === ask)?.label ?? ask;
      const known = found.get(key) ?? {
        slip,
        ask,
        label,
        problem: attempt.problem,
        says: slips[slip] ?? "",
        students: [],
      };
      known.students.push(attempt.student);
      found.set(key, known);
    }
  }
  return [...found.values()].sort((a, b) => b.students.length - a.students.length);
}

/** begunBy counts the students who have begun a problem. */
export const begunBy = ({ attempts }: Standings, problem: string): number =>
  new Set(attempts.filter((each) => each.problem === problem).map((each) => each.student)).size;
