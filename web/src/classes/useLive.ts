import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** useLive fetches a query anew whenever the server tells that something went on, for as long as the page is there. */
export function useLive(path: string | undefined, queryKey: QueryKey) {
  const client = useQueryClient();
  const key = JSON.stringify(queryKey);
  useEffect(() => {
    if (path === undefined) return;
    const source = new EventSource(path);
    const told = () => void client.invalidateQueries({ queryKey: JSON.parse(key) as QueryKey });
    source.onmessage = told;
    source.onopen = told; // something may have gone on while the line was broken
    return () => source.close();
  }, [client, path, key]);
}
