// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { ProblemSet, Simulation, Worked } from "../api/types";
import { useSimulation } from "./useSimulation";

const none: ProblemSet[] = [];

/** An answer whose lines the test sends one by one. */
interface Answer {
  body: { version: number; data_version: number };
  signal: AbortSignal;
  line: (line: object) => Promise<void>;
  end: () => Promise<void>;
}

let answers: Answer[] = [];

beforeEach(() => {
  answers = [];
  vi.stubGlobal("matchMedia", () => ({ matches: true })); // without motion no report waits for its turn
  vi.stubGlobal("fetch", async (_: string, init: RequestInit) => {
    let controller: ReadableStreamDefaultController<Uint8Array> | undefined;
    const stream = new ReadableStream<Uint8Array>({
      start(made) {
        controller = made;
      },
    });
    const settle = () => act(() => new Promise<void>((done) => setTimeout(done, 5)));
    answers.push({
      body: JSON.parse(String(init.body)),
      signal: init.signal as AbortSignal,
      line: (line) => {
        controller?.enqueue(new TextEncoder().encode(`${JSON.stringify(line)}\n`));
        return settle();
      },
      end: () => {
        controller?.close();
        return settle();
      },
    });
    return new Response(stream);
  });
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const worked = (version: number, offered = true): Worked =>
  ({
    version,
    data_version: 1,
    solution: { steps: [{ blocks: offered ? [{ kind: "simulation" }] : [] }] },
  }) as unknown as Worked;

const drawn = (count: number): Simulation => ({ drawn: count, repetitions: 5000 }) as Simulation;
const last = () => answers.at(-1) as Answer;

async function begin() {
  const hook = renderHook(({ work }) => useSimulation({ id: "p" }, none, work), { initialProps: { work: worked(1) } });
  await act(async () => hook.result.current.start());
  return { ...hook, simulation: () => hook.result.current };
}

test("nothing is drawn before it is asked for, nor where nothing can be", async () => {
  const { result } = renderHook(() => useSimulation({ id: "p" }, none, worked(1, false)));
  expect(result.current).toMatchObject({ offered: false, state: null, running: false });
  await act(async () => result.current.start());
  expect(answers).toEqual([]);
});

test("it fills in line by line, of the versions that are shown", async () => {
  const { simulation } = await begin();
  expect(last().body).toMatchObject({ version: 1, data_version: 1 });
  await last().line(drawn(1000));
  expect(simulation()).toMatchObject({ state: { drawn: 1000 }, running: true });
  await last().line(drawn(5000));
  await last().end();
  expect(simulation()).toMatchObject({ state: { drawn: 5000 }, running: false, error: null });
});

test("stopping leaves what was drawn, and a line that comes late changes nothing", async () => {
  const { simulation } = await begin();
  await last().line(drawn(1000));
  act(() => simulation().stop());
  expect(last().signal.aborted).toBe(true);
  await last().line(drawn(2000));
  expect(simulation()).toMatchObject({ state: { drawn: 1000 }, running: false, error: null });
});

test("an answer that breaks off says so, and so does one that ends with a failure", async () => {
  const { simulation } = await begin();
  await last().line(drawn(1000));
  await last().end();
  expect(simulation().error).toBe("The simulation ended before all samples were drawn.");
  await act(async () => simulation().start());
  expect(simulation().error).toBeNull();
  await last().line({ status: 503, title: "", detail: "It took too long.", errors: [] });
  expect(simulation()).toMatchObject({ error: "It took too long.", running: false });
});

test("another solution is drawn anew, and the lines of the one before are dropped", async () => {
  const { simulation, rerender } = await begin();
  await last().line(drawn(5000));
  await last().end();
  const before = last();
  await act(async () => rerender({ work: worked(2) }));
  expect(answers).toHaveLength(2);
  expect(last().body.version).toBe(2);
  expect(before.signal.aborted).toBe(true);
  await last().line(drawn(3000));
  expect(simulation()).toMatchObject({ state: { drawn: 3000 }, running: true });
});

test("bars are taken off the curve, and stay off when the solution changes", async () => {
  const { simulation, rerender } = await begin();
  await last().line(drawn(5000));
  await last().end();
  act(() => simulation().clear());
  expect(simulation()).toMatchObject({ state: null, running: false });
  await act(async () => rerender({ work: worked(2) }));
  expect(answers).toHaveLength(1);
});
