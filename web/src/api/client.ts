import type { Failure, ProblemError } from "./types";

/** RequestError is a response that was no success, or no response at all (status 0). */
export class RequestError extends Error {
  readonly status: number;
  readonly mistakes: ProblemError[];

  constructor(failure: Pick<Failure, "status" | "detail" | "errors">) {
    super(failure.detail);
    this.status = failure.status;
    this.mistakes = failure.errors ?? [];
  }
}

/** request sends JSON, or text and files as they are, and returns the decoded answer. */
export async function request<T>(method: string, path: string, body?: unknown): Promise<T> {
  const asItIs = typeof body === "string" || body instanceof Blob;
  const response = await fetch(path, {
    method,
    headers: body === undefined ? {} : { "Content-Type": asItIs ? "application/octet-stream" : "application/json" },
    body: body === undefined ? undefined : asItIs ? body : JSON.stringify(body),
  }).catch(() => {
    throw new RequestError({
      status: 0,
      detail: "Grund does not answer. Is it still running? What you typed is kept here.",
    });
  });
  if (response.status === 204) return undefined as T;
  if (!response.ok) {
    const failure = (await response.json().catch(() => null)) as Failure | null;
    throw new RequestError(failure ?? { status: response.status, detail: response.statusText });
  }
  return (await response.json()) as T;
}
