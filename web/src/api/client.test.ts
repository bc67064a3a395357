import { afterEach, expect, test, vi } from "vitest";
import { passes, pause, RequestError, request, requestList } from "./client";

afterEach(() => vi.unstubAllGlobals());

/** failing lets fetch answer so, and returns what request makes of it. */
async function failing(status: number, headers: Record<string, string> = {}, body: unknown = undefined) {
  vi.stubGlobal(
    "fetch",
    async () => new Response(JSON.stringify(body ?? { status, detail: "no" }), { status, headers }),
  );
  return request("GET", "/api/problems").then(
    () => undefined,
    (error: unknown) => error,
  );
}

test("what says when to come again passes, and what took too long does not", async () => {
  expect(passes(await failing(503, { "Retry-After": "2" }))).toBe(true);
  expect(passes(await failing(503))).toBe(false);
  expect(passes(await failing(502))).toBe(true);
  expect(passes(await failing(500))).toBe(false);
  expect(passes(await failing(422))).toBe(false);
  expect(passes(new Error("another"))).toBe(false);
});

test("a server that is not there passes", async () => {
  vi.stubGlobal("fetch", async () => {
    throw new TypeError("failed to fetch");
  });
  const error = await request("GET", "/api/problems").catch((each: unknown) => each);
  expect(error).toBeInstanceOf(RequestError);
  expect(passes(error)).toBe(true);
});

test("the pauses between questions grow up to five seconds", () => {
  expect([0, 1, 2, 3, 4, 20].map(pause)).toEqual([500, 1000, 2000, 4000, 5000, 5000]);
});

test("a list is read to its last page", async () => {
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (path: string) => {
    asked.push(path);
    const last = path.endsWith("from=400");
    const next = path.includes("from=200") ? 400 : 200;
    const headers: HeadersInit = last ? {} : { Link: `</api/problems?from=${next}>; rel="next"` };
    return new Response(JSON.stringify([path]), { headers });
  });
  const pages = ["/api/problems", "/api/problems?from=200", "/api/problems?from=400"];
  expect(await requestList("/api/problems")).toEqual(pages);
  expect(asked).toEqual(pages);
});
