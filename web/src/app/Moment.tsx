import { useIsFetching } from "@tanstack/react-query";

/** Moment says that something is asked again until it is answered; the page goes on by itself then. */
export function Moment() {
  const again = useIsFetching({ predicate: (query) => query.state.fetchFailureCount > 0 });
  if (again === 0) return null;
  return (
    <p role="status" className="screen-only border-region border-b bg-base-200 px-6 py-2.5">
      One moment: Grund does not answer just now. It is asked again until it does, and this page goes on by itself.
    </p>
  );
}
