import type { Failure, ProblemError } from "./types";

/** RequestError is a response that was no success, or no response at all (status 0). */
export class RequestError extends Error {
  readonly status: number;
  readonly mistakes: ProblemError[];
  /** Whether the same request may do better in a moment: Grund, or its database, is not there or has no room now. */
  readonly passing: boolean;

  constructor(failure: Pick<Failure, "status" | "detail" | "errors">, passing = failure.status === 0) {
    super(failure.detail);
    this.status = failure.status;
    this.mistakes = failure.errors ?? [];
    this.passing = passing;
  }
}

/** passes reports whether what failed so may do better in a moment. */
export const passes = (error: unknown): boolean => error instanceof RequestError && error.passing;

/** How long after so many failures a question is asked again, in milliseconds. */
export const pause = (failures: number): number => Math.min(500 * 2 ** failures, 5000);

/** A browser lets requests go on when their page closes as long as they are no longer than 64 KiB together. */
const mostOutliving = 60_000;

/**
 * request sends JSON, or text and files as they are, and returns the decoded answer. One that outlives goes on when the
 * page closes, if it is not too long for that.
 */
export async function request<T>(
  method: string,
  path: string,
  body?: unknown,
  { outlives = false }: { outlives?: boolean } = {},
): Promise<T> {
  const asItIs = typeof body === "string" || body instanceof Blob;
  const sent = body === undefined || asItIs ? body : JSON.stringify(body);
  const response = await answer(path, {
    method,
    headers: body === undefined ? {} : { "Content-Type": asItIs ? "application/octet-stream" : "application/json" },
    body: sent,
    keepalive: outlives && typeof sent === "string" && sent.length < mostOutliving,
  });
  if (response.status === 204) return undefined as T;
  return (await response.json()) as T;
}

/** requestList returns a list that comes in pages, each of which says where the next one is. */
export async function requestList<T>(path: string): Promise<T[]> {
  const all: T[] = [];
  for (let page: string | undefined = path; page !== undefined; ) {
    const response: Response = await answer(page, { method: "GET" });
    all.push(...((await response.json()) as T[]));
    page = /<([^>]*)>; rel="next"/.exec(response.headers.get("Link") ?? "")?.[1];
  }
  return all;
}

/** requestLines sends JSON and yields the lines of JSON that come back, each as it comes. */
export async function* requestLines<T extends object>(
  path: string,
  body: unknown,
  signal: AbortSignal,
): AsyncGenerator<T> {
  const headers = { "Content-Type": "application/json" };
  const response = await answer(path, { method: "POST", headers, body: JSON.stringify(body), signal });
  const reader = (response.body as ReadableStream<Uint8Array>).getReader();
  const decoder = new TextDecoder();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    const lines = (rest + decoder.decode(value, { stream: true })).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) yield lineOf<T>(JSON.parse(line));
  }
}

/** lineOf returns a line of an answer; a failure is the last one, and says why there are no more. */
function lineOf<T extends object>(line: T | Failure): T {
  if ("status" in line) throw new RequestError(line);
  return line;
}

let person = "";

/** askAs names who the page is of: where somebody else is signed in by now, nothing is asked or changed in their name. */
export function askAs(id: string) {
  person = id;
}

/** The event that nobody is signed in any more, or somebody else. */
export const signedOut = "grund:signed-out";

/** answer returns a response that is a success; anything else is a RequestError. */
async function answer(path: string, init: RequestInit): Promise<Response> {
  const headers = person ? { ...init.headers, "Grund-As": person } : init.headers;
  const response = await fetch(path, { ...init, headers }).catch(() => {
    throw new RequestError({
      status: 0,
      detail: "Grund does not answer. Is it still running? What you typed is kept here.",
    });
  });
  if (!response.ok) {
    const failure = (await response.json().catch(() => null)) as Failure | null;
    if (response.status === 401) dispatchEvent(new Event(signedOut));
    const { status, statusText } = response;
    // The answer says when to come again where that helps; what took too long takes as long the next time.
    const passing = response.headers.has("Retry-After") || status === 502 || status === 504;
    throw new RequestError(failure ?? { status, detail: statusText }, passing);
  }
  return response;
}
