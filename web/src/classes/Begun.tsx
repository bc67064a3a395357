import { useMutation, useQueryClient } from "@tanstack/react-query";
import { request } from "../api/client";
import type { JudgedAgain, SetView } from "../api/types";
import { useToast } from "../app/toasts";
import { counted } from "../lib/words";
import { setQuery } from "./queries";

/** Begun says what a change of the set is to those who have begun, and judges them all again at the instructor's word. */
export function Begun({ set, before }: { set: SetView; before: () => Promise<boolean> }) {
  const client = useQueryClient();
  const toast = useToast();
  const again = useMutation({
    mutationFn: async () => {
      if (!(await before())) throw new Error("What you changed is not kept yet.");
      return request<JudgedAgain>("POST", `/api/sets/${set.id}/judge-again`);
    },
    onSuccess: ({ attempts, changed }) => {
      client.invalidateQueries({ queryKey: ["sets", set.id] });
      client.invalidateQueries({ queryKey: setQuery(set.id).queryKey });
      toast({
        says: `${counted(attempts, "attempt")} ${attempts === 1 ? "is" : "are"} judged again: ${
          changed === 0
            ? "no answer has another verdict"
            : `${counted(changed, "answer")} ${changed === 1 ? "has" : "have"} another verdict`
        }.`,
      });
    },
    onError: (failure) => toast({ says: failure.message, bad: true }),
  });
  return (
    <div className="mt-4 max-w-2xl border-expected border-l-2 pl-3 text-[0.95rem]" data-testid="begun">
      <p>
        {counted(set.attempts, "attempt")} {set.attempts === 1 ? "has" : "have"} begun. Each is judged by the problem
        and with the numbers with which it was begun: what you change here is for whoever begins after. What holds for
        all at once are the dates, when the solution may be read, the points and what tries and help cost.
      </p>
      {set.earlier > 0 && (
        <p className="mt-2">
          {counted(set.earlier, "attempt")} {set.earlier === 1 ? "was" : "were"} begun before you changed something.{" "}
          <button type="button" className="act" disabled={again.isPending} onClick={() => again.mutate()}>
            Judge all by what is handed out now
          </button>
        </p>
      )}
    </div>
  );
}
