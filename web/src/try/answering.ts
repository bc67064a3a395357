import { passes, pause, RequestError } from "../api/client";
import type { Table, TryRequest, TrySheet } from "../api/types";

/** What a person does in an attempt, before it is known after which events. */
export type Deed = Pick<TryRequest, "kind" | "ask" | "text">;

/** How an attempt reaches the server. */
export interface Wire {
  fetch: () => Promise<TrySheet>;
  post: (request: TryRequest) => Promise<TrySheet>;
  /** Ends the attempt, so that another one begins; undefined where there is only one. */
  end?: () => Promise<void>;
  /** Fetches a page of a table, as far as it was earned. */
  rows: (sheet: TrySheet, asked: object) => Promise<Table>;
  /** Waits so many milliseconds. */
  wait: (time: number) => Promise<void>;
  /** Keeps what has not arrived, so that it outlives the page; load returns it. */
  save: (deeds: Deed[]) => void;
  load: () => Deed[];
}

/** A state of an attempt, as the page shows it. */
export interface Standing {
  sheet: TrySheet | null;
  /** What has not arrived yet, the oldest first. */
  waiting: readonly Deed[];
  /** Why what waits does not get there, or the sheet does not come. */
  failure: string | null;
  /** What the person should know: that another tab answered, or that the problem is another one now. */
  notice: string | null;
}

/** How often an answer is given again that met those of another tab. */
const mostMeetings = 4;

/**
 * Answering sends what a person does one by one, each after what the server has, and never loses any of it: what does
 * not arrive is sent again, and taken up after the page was closed.
 */
export class Answering {
  #wire: Wire;
  #standing: Standing;
  #running = false;
  #ended = 0;
  #listeners = new Set<() => void>();

  constructor(wire: Wire) {
    this.#wire = wire;
    this.#standing = { sheet: null, waiting: wire.load(), failure: null, notice: null };
  }

  get standing(): Standing {
    return this.#standing;
  }

  subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** start fetches where the person stands, and sends what was left. */
  start = async () => {
    try {
      this.#set({ sheet: this.#noted(await this.#wire.fetch()), failure: null });
    } catch (error) {
      this.#set({ failure: words(error) });
      return;
    }
    await this.#run();
  };

  /** refresh looks whether another tab has gone on. */
  refresh = async () => {
    if (this.#running) return;
    const ended = this.#ended;
    const sheet = await this.#wire.fetch().catch(() => null);
    if (sheet && !this.#running && ended === this.#ended) this.#set({ sheet: this.#noted(sheet), failure: null });
  };

  /** add does a thing: it is kept at once, and sent. */
  add = (deed: Deed) => {
    this.#keep([...this.#standing.waiting, deed]);
    void this.#run();
  };

  /** anew begins another attempt. */
  anew = async () => {
    this.#ended++;
    this.#keep([]);
    try {
      await this.#wire.end?.();
      this.#set({ sheet: await this.#wire.fetch(), failure: null, notice: null });
    } catch (error) {
      this.#set({ failure: words(error) });
    }
  };

  async #run() {
    if (this.#running || !this.#standing.sheet) return;
    this.#running = true;
    let failures = 0;
    let meetings = 0;
    for (let deed = this.#standing.waiting[0]; deed; deed = this.#standing.waiting[0]) {
      const { sheet } = this.#standing;
      const ended = this.#ended;
      if (!sheet) break;
      try {
        const { version, data_version, events } = sheet;
        const next = await this.#wire.post({ version, data_version, after: events, ...deed });
        if (ended !== this.#ended) continue; // begun anew meanwhile
        this.#keep(this.#standing.waiting.slice(1));
        this.#set({ sheet: next, failure: null });
        failures = 0;
        meetings = 0;
      } catch (error) {
        if (ended !== this.#ended) continue;
        if (passes(error)) {
          this.#set({ failure: words(error) });
          await this.#wire.wait(pause(failures++));
        } else if (error instanceof RequestError && error.status === 409 && meetings++ < mostMeetings) {
          await this.#meet(sheet);
        } else {
          this.#keep(this.#standing.waiting.slice(1));
          this.#set({ failure: words(error) });
        }
      }
    }
    this.#running = false;
  }

  /** meet takes over what another tab did. Of a problem that was changed nothing that waits is an answer any more. */
  async #meet(before: TrySheet) {
    try {
      const sheet = await this.#wire.fetch();
      const changed = sheet.version !== before.version || sheet.data_version !== before.data_version;
      if (changed) this.#keep([]);
      this.#set({
        sheet: this.#noted(sheet),
        notice: changed ? changedNotice : "Another tab has answered meanwhile; its answers are here too.",
      });
    } catch (error) {
      this.#set({ failure: words(error) });
      await this.#wire.wait(pause(0));
    }
  }

  #noted(sheet: TrySheet): TrySheet {
    if (sheet.renewed) this.#set({ notice: changedNotice });
    return sheet;
  }

  #keep(waiting: readonly Deed[]) {
    this.#wire.save([...waiting]);
    this.#set({ waiting });
  }

  #set(change: Partial<Standing>) {
    this.#standing = { ...this.#standing, ...change };
    for (const listener of this.#listeners) listener();
  }
}

const changedNotice = "The problem was changed since, so this is a new attempt. The earlier one is kept as it was.";

const words = (error: unknown): string => (error instanceof Error ? error.message : String(error));
