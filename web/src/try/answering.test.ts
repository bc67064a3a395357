import { expect, test } from "vitest";
import { RequestError } from "../api/client";
import type { Table, TryRequest, TrySheet } from "../api/types";
import { Answering, type Deed, type Wire } from "./answering";

const sheetOf = (events: number, more: Partial<TrySheet> = {}): TrySheet =>
  ({
    items: [],
    answered: 0,
    of: 3,
    can_undo: false,
    solution: null,
    summary: null,
    version: 1,
    data_version: 1,
    events,
    ...more,
  }) as TrySheet;

/** A server that keeps what it is sent, and what is made of each request before it answers. */
function server(before: (request: TryRequest) => void | Promise<void> = () => {}) {
  const kept: TryRequest[] = [];
  let saved: Deed[] = [];
  let version = 1;
  const wire: Wire = {
    fetch: async () => sheetOf(kept.length, { version }),
    post: async (request) => {
      await before(request);
      if (request.after !== kept.length || request.version !== version)
        throw new RequestError({ status: 409, detail: "changed elsewhere" });
      kept.push(request);
      return sheetOf(kept.length, { version });
    },
    end: async () => {
      kept.length = 0;
    },
    wait: async () => {},
    rows: async () => ({}) as Table,
    save: (deeds) => {
      saved = deeds;
    },
    load: () => saved,
  };
  return {
    wire,
    kept,
    saved: () => saved,
    change: () => {
      version++;
      kept.length = 0;
    },
  };
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 5));

test("answers are sent one by one, in their order", async () => {
  const { wire, kept, saved } = server(settled as () => Promise<void>);
  const answering = new Answering(wire);
  await answering.start();
  for (const text of ["1", "2", "3"]) answering.add({ kind: "answer", ask: "t", text });
  expect(answering.standing.waiting).toHaveLength(3);
  await expect.poll(() => kept.map((each) => each.text)).toEqual(["1", "2", "3"]);
  await expect.poll(() => answering.standing.sheet?.events).toBe(3);
  expect(kept.map((each) => each.after)).toEqual([0, 1, 2]);
  expect(saved()).toEqual([]);
});

test("what does not arrive is sent again, and said meanwhile", async () => {
  let fails = 2;
  const seen: (string | null)[] = [];
  const { wire, kept } = server(() => {
    if (fails-- > 0) throw new RequestError({ status: 0, detail: "Grund does not answer." });
  });
  const answering = new Answering(wire);
  answering.subscribe(() => seen.push(answering.standing.failure));
  await answering.start();
  answering.add({ kind: "answer", ask: "t", text: "1" });
  await expect.poll(() => kept.length).toBe(1);
  expect(seen).toContain("Grund does not answer.");
  await expect.poll(() => answering.standing.failure).toBeNull();
});

test("what was left when the page closed is taken up", async () => {
  const { wire, kept } = server();
  wire.save([{ kind: "answer", ask: "t", text: "−2.04" }]);
  const answering = new Answering(wire);
  expect(answering.standing.waiting).toHaveLength(1);
  await answering.start();
  await expect.poll(() => kept.map((each) => each.text)).toEqual(["−2.04"]);
});

test("an answer that meets those of another tab is given after them", async () => {
  const { wire, kept } = server();
  const answering = new Answering(wire);
  await answering.start();
  kept.push({ version: 1, data_version: 1, after: 0, kind: "answer", ask: "se", text: "0.57" });
  answering.add({ kind: "answer", ask: "t", text: "1" });
  await expect.poll(() => kept.map((each) => each.text)).toEqual(["0.57", "1"]);
  expect(answering.standing.notice).toContain("Another tab");
});

test("what waits is no answer to a problem that was changed", async () => {
  const { wire, kept, change, saved } = server();
  const answering = new Answering(wire);
  await answering.start();
  change();
  answering.add({ kind: "answer", ask: "t", text: "1" });
  await expect.poll(() => answering.standing.notice).toContain("The problem was changed");
  expect(kept).toEqual([]);
  expect(saved()).toEqual([]);
});

test("what the server refuses is said, and does not hold up the rest", async () => {
  const { wire, kept } = server((request) => {
    if (request.ask === "later") throw new RequestError({ status: 422, detail: "this is not asked yet" });
  });
  const answering = new Answering(wire);
  await answering.start();
  answering.add({ kind: "answer", ask: "later", text: "1" });
  answering.add({ kind: "answer", ask: "t", text: "2" });
  await expect.poll(() => kept.map((each) => each.ask)).toEqual(["t"]);
});

test("begun anew, an answer that is on its way counts no more", async () => {
  let release = () => {};
  const { wire, kept } = server(
    () =>
      new Promise<void>((resolve) => {
        release = resolve;
      }),
  );
  const answering = new Answering(wire);
  await answering.start();
  answering.add({ kind: "answer", ask: "t", text: "1" });
  await settled();
  const again = answering.anew();
  await again;
  release();
  await settled();
  expect(answering.standing.sheet?.events).toBe(0);
  expect(answering.standing.waiting).toEqual([]);
  kept.length = 0;
});
