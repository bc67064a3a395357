// @vitest-environment happy-dom
import { beforeEach, expect, test, vi } from "vitest";
import { RequestError, request } from "../api/client";
import type { SharedTryRequest, TrySheet } from "../api/types";
import { wireOf } from "./wires";

vi.mock("../api/client", async (original) => ({ ...(await original<object>()), request: vi.fn() }));
const server = vi.mocked(request);

let version = 1;
/** What happens at the server before it answers. */
let meanwhile: () => void = () => {};

beforeEach(() => {
  localStorage.clear();
  vi.clearAllMocks();
  version = 1;
  meanwhile = () => {};
  server.mockImplementation(async (_method, _path, body) => {
    const asked = body as SharedTryRequest;
    if (asked.version !== undefined && asked.version !== version)
      throw new RequestError({ status: 409, detail: "the problem was changed" });
    meanwhile();
    const { events } = asked;
    const last = events.at(-1);
    const items = last?.ask ? [{ id: last.ask, verdict: { verdict: "slip", slip: "one_tail" } }] : [];
    return { version, data_version: 1, events: events.length, items } as unknown as TrySheet;
  });
});

const shared = () => wireOf({ id: "LINK", shared: true });
const at = (after: number) => ({ version: 1, data_version: 1, after });
const sent = () => server.mock.calls.map(([, , body]) => (body as SharedTryRequest).events.map((each) => each.text));

test("an attempt at one's own problem is kept by the server", async () => {
  const own = wireOf({ id: "7" });
  await own.post({ ...at(0), kind: "answer", ask: "t", text: "2" }).catch(() => {});
  expect(server).toHaveBeenCalledWith("POST", "/api/problems/7/try", expect.objectContaining({ after: 0 }), {
    outlives: true,
  });
});

test("an attempt at a shared problem is kept here, each answer with the verdict that it had, and taken up again", async () => {
  const wire = shared();
  await wire.fetch();
  await wire.post({ ...at(0), kind: "answer", ask: "t", text: "1" });
  await wire.post({ ...at(1), kind: "answer", ask: "p", text: "2" });
  expect(sent()).toEqual([[], ["1"], ["1", "2"]]);
  const again = await shared().fetch();
  expect(again.events).toBe(2);
  const [, , body] = server.mock.calls.at(-1) as [string, string, SharedTryRequest];
  expect(body.events[0]).toEqual({ kind: "answer", ask: "t", text: "1", verdict: "slip", slip: "one_tail" });
  await shared().end?.();
  expect((await shared().fetch()).events).toBe(0);
});

test("two tabs lose none of each other's answers", async () => {
  const [one, two] = [shared(), shared()];
  await one.post({ ...at(0), kind: "answer", ask: "t", text: "1" });
  await expect(two.post({ ...at(0), kind: "answer", ask: "p", text: "2" })).rejects.toMatchObject({ status: 409 });
  // Where both ask at once, the one that is answered first is kept.
  let first: Promise<TrySheet> | undefined;
  meanwhile = () => {
    meanwhile = () => {};
    first = one.post({ ...at(1), kind: "answer", ask: "df", text: "3" });
  };
  const second = two.post({ ...at(1), kind: "answer", ask: "p", text: "4" });
  const results = await Promise.allSettled([second, new Promise((done) => setTimeout(done)).then(() => first)]);
  expect(results.map((each) => each.status).sort()).toEqual(["fulfilled", "rejected"]);
  expect((await shared().fetch()).events).toBe(2);
});

test("where the owner has changed the problem the attempt begins anew, and says so", async () => {
  await shared().post({ ...at(0), kind: "answer", ask: "t", text: "1" });
  version = 2;
  expect(await shared().fetch()).toMatchObject({ renewed: true, events: 0 });
  expect((await shared().fetch()).renewed).toBeUndefined();
});

test("an answer that was refused is not kept", async () => {
  server.mockRejectedValueOnce(new RequestError({ status: 422, detail: "not asked yet" }));
  await expect(shared().post({ ...at(0), kind: "answer", ask: "p", text: "1" })).rejects.toThrow("not asked yet");
  expect((await shared().fetch()).events).toBe(0);
});

test("rows come as far as they were earned by the answers that are kept here", async () => {
  const wire = shared();
  const sheet = await wire.post({ ...at(0), kind: "answer", ask: "n_1", text: "4" });
  await wire.rows(sheet, { table: "cases", from: 60 });
  const [, path, body] = server.mock.calls.at(-1) as [string, string, SharedTryRequest];
  expect(path).toBe("/api/shared/LINK/try");
  expect(body).toMatchObject({ events: [{ text: "4" }], rows: { table: "cases", from: 60, set: [] } });
});
