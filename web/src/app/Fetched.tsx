import type { ReactNode } from "react";
import { RequestError } from "../api/client";
import { Message } from "./Message";
import { Shell } from "./Shell";

interface Props<T> {
  /** Of the page, until what is fetched has one. */
  title: string;
  /** What is fetched, as "problem". */
  what: string;
  fetched: { data: T | undefined; error: Error | null; refetch: () => unknown };
  children: (data: T) => ReactNode;
}

/** Fetched shows the page of what was fetched; that it is on its way, that there is none, or why it cannot be had. */
export function Fetched<T>({ title, what, fetched, children }: Props<T>) {
  const { data, error, refetch } = fetched;
  if (data !== undefined) return children(data);
  const missing = error instanceof RequestError && error.status === 404;
  return (
    <Shell title={title}>
      {error ? (
        <Message
          title={missing ? `There is no such ${what}.` : `The ${what} cannot be shown.`}
          says={error.message}
          retry={missing ? undefined : () => refetch()}
        />
      ) : (
        <p className="p-8 text-muted" role="status" data-fetching>
          {`Fetching the ${what} …`}
        </p>
      )}
    </Shell>
  );
}
