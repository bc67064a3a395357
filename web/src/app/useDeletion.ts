import { useMutation } from "@tanstack/react-query";
import { request } from "../api/client";
import { useToast } from "./toasts";

interface What {
  /** Where it is: /api/problems/7. */
  at: string;
  /** The version that is deleted, once it is kept; throws where it cannot be. */
  version: () => number | Promise<number>;
  /** What is said of it: “Fares” is deleted. */
  says: string;
  /** Fetches anew what lists it. */
  refresh: () => void;
  /** Leaves a page that is no more. */
  leave?: () => void;
}

/** useDeletion returns what deletes something; it is said with the way back. */
export function useDeletion({ at, version, says, refresh, leave }: What): () => void {
  const toast = useToast();
  const onError = (error: Error) => {
    refresh(); // it may have been changed elsewhere
    toast({ says: error.message, bad: true });
  };
  const restore = useMutation({
    mutationFn: () => request("POST", `${at}/restore`),
    onSuccess: refresh,
    onError,
  });
  const remove = useMutation({
    mutationFn: async () => request("DELETE", `${at}?version=${await version()}`),
    onSuccess: () => {
      refresh();
      leave?.();
      toast({ says, action: { label: "Undo", act: () => restore.mutate() } });
    },
    onError,
  });
  return () => remove.mutate();
}
