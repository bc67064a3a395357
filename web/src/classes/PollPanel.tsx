import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { request } from "../api/client";
import type { PollRequest, PollView } from "../api/types";
import { useToast } from "../app/toasts";
import { answersIn, PollAnswers, PollQuestion, RightAnswer } from "./PollAnswers";
import { pollQuery } from "./queries";
import { useLive } from "./useLive";

/** PollPanel is what a class is asked, on the projector: how many have answered, and, once it is closed, how. */
export function PollPanel({ id, code }: { id: string; code?: string }) {
  const client = useQueryClient();
  const toast = useToast();
  const query = pollQuery(id);
  const { data: poll, error } = useQuery(query);
  useLive(`/api/polls/${id}/live`, query.queryKey);
  const change = useMutation({
    mutationFn: (body: PollRequest) => request<PollView>("PATCH", `/api/polls/${id}`, body),
    onSuccess: (now) => {
      client.setQueryData(query.queryKey, now);
      client.invalidateQueries({ queryKey: ["classes"] });
    },
    onError: (failure) => toast({ says: failure.message, bad: true }),
  });
  if (!poll)
    return (
      <p role={error ? "alert" : "status"} className={error ? "text-(--region-text)" : "text-muted"}>
        {error ? error.message : "Asking …"}
      </p>
    );
  return (
    <div className="grid gap-5">
      <PollQuestion poll={poll} large />
      {!poll.closed && (
        <>
          {code && (
            <p className="text-[clamp(1.15rem,2.2vw,1.7rem)]">
              On the phone: <span className="font-semibold">{location.host}/classes</span>, code{" "}
              <span className="font-mono font-semibold text-[1.4em] tracking-widest">{code}</span>
            </p>
          )}
          <p className="font-serif text-[clamp(2.6rem,7vw,6rem)] leading-none" role="status" data-testid="poll-count">
            {answersIn(poll)}
          </p>
        </>
      )}
      {poll.closed && <PollAnswers poll={poll} large />}
      {poll.revealed && <RightAnswer poll={poll} large />}
      <div className="flex flex-wrap gap-3">
        {!poll.closed && (
          <button
            type="button"
            className="btn btn-primary"
            disabled={change.isPending}
            onClick={() => change.mutate({ closed: true, revealed: false })}
          >
            Close and see the answers
          </button>
        )}
        {poll.closed && !poll.revealed && (
          <>
            <button
              type="button"
              className="btn btn-primary"
              disabled={change.isPending}
              onClick={() => change.mutate({ closed: true, revealed: true })}
            >
              Tell what is right
            </button>
            <button
              type="button"
              className="btn"
              disabled={change.isPending}
              onClick={() => change.mutate({ closed: false, revealed: false })}
            >
              Let them answer again
            </button>
          </>
        )}
      </div>
    </div>
  );
}
