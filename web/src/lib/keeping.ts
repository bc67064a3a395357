import { RequestError } from "../api/client";

/** Saving says how the kept state and the one on the screen stand to each other. */
export type Saving = "kept" | "typing" | "keeping" | "offline" | "signed-out" | "conflict" | "refused";

/** Held is a state and what the server said of it when it took it: its version, and what else came along. */
export interface Held<S, B> {
  state: S;
  base: B;
}

/** A Way knows how to keep a state on the server. */
export interface Way<S, B> {
  /**
   * Sends what is different from what is kept, and returns what the server said. Where it takes several requests, mark notes
   * what was taken so far. Throws where it could not be kept.
   */
  save: (state: S, kept: Held<S, B>, mark: (taken: Held<S, B>) => void) => Promise<B>;
  /** Fetches what the server has. */
  theirs: () => Promise<Held<S, B>>;
  /**
   * Sends what is different when the page goes, where there is no time to wait for an answer; underWay says that a write is,
   * which will be taken first. Where it is missing the person is asked before the page goes.
   */
  leave?: (state: S, kept: Held<S, B>, underWay: boolean) => void;
  /** What was changed here since kept, put over theirs, when a conflict ends in favour of mine: all of mine where it is missing. */
  over?: (mine: S, kept: S, theirs: S) => S;
  /** Whether two states are the same to the server; the same object where it is missing. */
  same?: (a: S, b: S) => boolean;
  /** Whether two states say the same, in whatever form the server writes them; as same where it is missing. */
  alike?: (a: S, b: S) => boolean;
  /** How long nothing must change before the state is kept, in milliseconds. */
  quiet: number;
  /** How long a change of the same name may go on to be one change for undo, in milliseconds; 0 where each is one. */
  together: number;
}

/** How long to wait for a server that does not answer. */
const again = 3000;
/** How many changes can be undone. */
const most = 200;

interface Change<S> {
  says: string;
  state: S;
}

/** A Kept state as a component sees it. */
export interface Kept<S, B> extends Held<S, B> {
  saving: Saving;
  /** Why the state could not be kept, if it could not. */
  trouble: string;
  canUndo: string | undefined;
  canRedo: string | undefined;
}

/**
 * Keeping holds a state that is changed at once, kept on the server as it is changed, and can undo every change. One write
 * is under way at a time; what is changed meanwhile waits for it. A write that was based on an older version ends in a
 * conflict, which the person decides: nothing is overwritten, and nothing that was typed is dropped.
 */
export class Keeping<S, B> {
  private held: Held<S, B>;
  private state: S;
  private saving: Saving = "kept";
  private trouble = "";
  private past: Change<S>[] = [];
  private future: Change<S>[] = [];
  private lastChange = { says: "", at: 0 };
  private running: Promise<boolean> | null = null;
  /** What is kept, or will be when the write that is under way ends well. */
  private sent: S;
  /** What was sent and not answered since the last answer: the server may have taken it. */
  private unanswered: S[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Counts the times at which what is kept was put in another's place: what a write says of an earlier time is out of date. */
  private epoch = 0;
  private listeners = new Set<() => void>();
  private shown: Kept<S, B>;
  private way: Way<S, B>;

  constructor(initial: Held<S, B>, way: Way<S, B>) {
    this.held = initial;
    this.state = initial.state;
    this.sent = initial.state;
    this.way = way;
    this.shown = this.look();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  /** What there is now; the same object until something changes. */
  snapshot = (): Kept<S, B> => this.shown;

  /** Changes the state; says names the change for undo. */
  change = (says: string, next: (state: S) => S) => {
    const before = this.state;
    const changed = next(before);
    if (changed === before) return;
    const now = Date.now();
    const goesOn = this.lastChange.says === says && now - this.lastChange.at < this.way.together;
    this.lastChange = { says, at: now };
    if (!goesOn) this.past = [...this.past.slice(1 - most), { says, state: before }];
    this.future = [];
    this.moveTo(changed);
  };

  /** Adds to the state what the server has already: no change, and nothing to undo. */
  know = (extend: (state: S) => S) => {
    const state = extend(this.state);
    if (state === this.state) return;
    this.state = state;
    this.held = { ...this.held, state: extend(this.held.state) };
    this.sent = extend(this.sent);
    this.emit();
  };

  /** Takes what the server said of what is kept since its last answer; the state stays as it is. */
  learn = (next: (base: B) => B) => {
    this.held = { ...this.held, base: next(this.held.base) };
    this.emit();
  };

  undo = () => this.step("past", "future");
  redo = () => this.step("future", "past");

  private step(from: "past" | "future", to: "past" | "future") {
    const last = this[from].at(-1);
    if (!last) return;
    this.lastChange = { says: "", at: 0 };
    this[from] = this[from].slice(0, -1);
    this[to] = [...this[to], { says: last.says, state: this.state }];
    this.moveTo(last.state);
  }

  /** Keeps the state now, and what is typed while it is being kept; false where it could not be. */
  flush = async (): Promise<boolean> => {
    for (;;) {
      while (this.running) await this.running;
      if (this.saving === "conflict") return false;
      if (this.same(this.state, this.held.state)) return true;
      if (!(await this.write())) return false;
    }
  };

  /** Ends a conflict: what was changed here is put over the other version. */
  keepMine = async () => {
    const before = this.held.state;
    const theirs = await this.other();
    if (!theirs) return;
    this.held = theirs;
    this.sent = theirs.state;
    if (this.way.over) this.state = this.way.over(this.state, before, theirs.state);
    this.saving = "typing";
    this.settle();
  };

  /** Ends a conflict: the other version is shown; undo brings back what was here. */
  takeTheirs = async () => {
    const theirs = await this.other();
    if (theirs) this.take("taking the other version", theirs);
  };

  /** Takes what the server has now in place of what is here, as a change that is kept already and can be undone. */
  take = (says: string, theirs: Held<S, B>) => {
    this.epoch++;
    this.unanswered = [];
    this.past = [...this.past.slice(1 - most), { says, state: this.state }];
    this.future = [];
    this.lastChange = { says: "", at: 0 };
    this.held = theirs;
    this.sent = theirs.state;
    this.state = theirs.state;
    this.saving = "kept";
    this.settle();
  };

  /** Takes a newer state of the server where nothing here is unkept; what could be undone was of the older one. */
  adopt = (newer: Held<S, B>) => {
    if (!this.settled()) return;
    this.epoch++;
    this.unanswered = [];
    this.held = newer;
    this.sent = newer.state;
    this.state = newer.state;
    this.past = [];
    this.future = [];
    this.settle();
  };

  /** Reports whether all is kept and nothing under way. */
  settled = (): boolean => this.running === null && this.same(this.state, this.held.state);

  /** Sends what is neither kept nor under way, without waiting for an answer; reports whether it sent anything. */
  leave = (): boolean => {
    if (this.saving === "conflict" || !this.way.leave || this.same(this.state, this.sent)) return false;
    this.way.leave(this.state, this.held, this.running !== null);
    return true;
  };

  /** Whether the page must not be closed without a question: something would be lost that nobody decided about. */
  holdsBack = (): boolean => {
    const sends = this.way.leave !== undefined && (this.saving === "typing" || this.saving === "keeping");
    return !sends && !this.same(this.state, this.held.state);
  };

  private same(a: S, b: S): boolean {
    return this.way.same ? this.way.same(a, b) : a === b;
  }

  private moveTo(state: S) {
    this.state = state;
    if (this.saving === "kept" || this.saving === "refused") this.saving = "typing";
    this.settle();
  }

  /** The other version, once no write is under way; undefined where it cannot be had, which is said. */
  private async other(): Promise<Held<S, B> | undefined> {
    while (this.running) await this.running;
    try {
      const theirs = await this.way.theirs();
      this.epoch++;
      this.unanswered = [];
      this.trouble = "";
      return theirs;
    } catch (error) {
      this.trouble = wordsOf(error);
      this.emit();
      return undefined;
    }
  }

  /** Writes what is there now, which is not kept yet, once; no write is under way. */
  private write = async (): Promise<boolean> => {
    clearTimeout(this.timer);
    this.running = this.keep();
    try {
      return await this.running;
    } finally {
      this.running = null;
      this.sent = this.held.state;
      this.settle();
    }
  };

  private async keep(): Promise<boolean> {
    const sent = this.state;
    const { epoch } = this;
    this.sent = sent;
    this.saving = "keeping";
    this.emit();
    const take = (taken: Held<S, B>) => {
      if (epoch === this.epoch) this.held = taken;
    };
    try {
      const base = await this.way.save(sent, this.held, take);
      take({ state: sent, base });
      if (epoch === this.epoch) this.taken();
      return true;
    } catch (error) {
      if (epoch !== this.epoch) return false;
      const status = error instanceof RequestError ? error.status : 0;
      if (status === 409 && (await this.arrived())) {
        this.taken();
        return true;
      }
      if (epoch !== this.epoch) return false;
      if (status === 0 || status >= 500) this.unanswered = [...this.unanswered.slice(-9), sent];
      if (status === 409) this.saving = "conflict";
      else if (status === 401) this.saving = "signed-out";
      else this.saving = status >= 400 && status < 500 ? "refused" : "offline";
      this.trouble = wordsOf(error);
      // What was changed meanwhile may be taken where what was sent was refused.
      if (this.saving === "refused" && this.state !== sent) this.saving = "typing";
      return false;
    }
  }

  private taken() {
    this.unanswered = [];
    this.trouble = "";
    this.saving = this.same(this.state, this.held.state) ? "kept" : "typing";
  }

  /** Whether the other version is what was sent from here, and whose answer was lost: then it is what is kept. */
  private async arrived(): Promise<boolean> {
    const { unanswered, epoch, way } = this;
    const alike = way.alike ?? way.same;
    if (unanswered.length === 0 || !alike) return false;
    const theirs = await way.theirs().catch(() => undefined);
    const mine = theirs && unanswered.find((sent) => alike(theirs.state, sent));
    if (!mine || epoch !== this.epoch) return false;
    this.held = { ...theirs, state: mine };
    return true;
  }

  /** Plans the next write: after a pause in the typing; without a connection, again and again. */
  private settle() {
    clearTimeout(this.timer);
    if (this.running === null) {
      if (this.saving !== "conflict" && this.same(this.state, this.held.state)) this.saving = "kept"; // undone before it was sent, perhaps
      if (this.saving === "typing") this.timer = setTimeout(this.write, this.way.quiet);
      if (this.saving === "offline" || this.saving === "signed-out") this.timer = setTimeout(this.write, again);
    }
    this.emit();
  }

  private emit() {
    this.shown = this.look();
    for (const listener of this.listeners) listener();
  }

  private look(): Kept<S, B> {
    return {
      state: this.state,
      base: this.held.base,
      saving: this.saving,
      trouble: this.trouble,
      canUndo: this.past.at(-1)?.says,
      canRedo: this.future.at(-1)?.says,
    };
  }
}

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
