import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { request } from "../api/client";
import type { LastPoll, PollAnswerRequest, PollView } from "../api/types";
import { Mistake } from "../app/Mistake";
import { TeX } from "../blocks/TeX";
import { verdictWords } from "../try/marks";
import { PollAnswers, PollQuestion, RightAnswer, shownAnswer } from "./PollAnswers";
import { lastPollQuery } from "./queries";
import { useLive } from "./useLive";

/** PollCard is what the class is asked now, for a student: answered on the phone, and told once it is revealed. */
export function PollCard({ of }: { of: string }) {
  const query = lastPollQuery(of);
  const { data } = useQuery(query);
  useLive(`/api/classes/${of}/live`, query.queryKey);
  const poll = data?.poll;
  if (!poll) return null;
  return (
    <section
      aria-label="What your instructor asks"
      className="grid gap-4 rounded-box border-[1.5px] border-ink bg-sheet p-5 max-sm:p-4"
    >
      <PollQuestion poll={poll} />
      {poll.closed ? <Told poll={poll} /> : <Answer key={poll.id} of={of} poll={poll} />}
    </section>
  );
}

function Told({ poll }: { poll: PollView }) {
  if (!poll.revealed)
    return (
      <p className="text-muted">
        {poll.mine ? `You answered ${shownAnswer(poll, poll.mine)}. ` : ""}It is closed: what is right is told in a
        moment.
      </p>
    );
  return (
    <>
      <RightAnswer poll={poll} />
      {poll.mine && (
        <p>
          You answered <span className="font-semibold">{shownAnswer(poll, poll.mine)}</span>
          {poll.verdict && `: ${verdictWords(poll.verdict)}`}. {poll.says}
        </p>
      )}
      <PollAnswers poll={poll} />
    </>
  );
}

function Answer({ of, poll }: { of: string; poll: PollView }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState(poll.mine ?? "");
  useEffect(() => setTyped(poll.mine ?? ""), [poll.mine]);
  const give = useMutation({
    mutationFn: (body: PollAnswerRequest) => request<PollView>("POST", `/api/polls/${poll.id}/answer`, body),
    onSuccess: (now) => client.setQueryData<LastPoll>(lastPollQuery(of).queryKey, { poll: now }),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (typed.trim() !== "") give.mutate({ text: typed });
  };
  const choices = poll.ask.choices ?? [];
  return (
    <>
      {choices.length > 0 ? (
        // biome-ignore lint/a11y/useSemanticElements: a fieldset would bring its frame
        <div role="group" aria-label={poll.ask.label} className="grid gap-2">
          {choices.map((choice) => (
            <button
              key={choice.value}
              type="button"
              aria-pressed={poll.mine === choice.value}
              disabled={give.isPending}
              className={`min-h-12 cursor-pointer rounded-box border px-4 py-2 text-left ${
                poll.mine === choice.value
                  ? "border-ink bg-raised shadow-[inset_0_0_0_1px_var(--ink)]"
                  : "border-base-300 bg-base-100 hover:border-ink"
              }`}
              onClick={() => give.mutate({ text: choice.value })}
            >
              {choice.symbols && (
                <span className="block overflow-x-auto">
                  <TeX tex={choice.symbols} />
                </span>
              )}
              {choice.words}
            </button>
          ))}
        </div>
      ) : (
        <form className="flex gap-2" onSubmit={submit}>
          <input
            className="input min-h-12 min-w-0 flex-1 bg-base-100 font-serif text-[1.2rem]"
            aria-label={poll.ask.label}
            value={typed}
            maxLength={200}
            autoComplete="off"
            onChange={(event) => setTyped(event.target.value)}
          />
          <button type="submit" className="btn btn-primary min-h-12" disabled={give.isPending || typed.trim() === ""}>
            Answer
          </button>
        </form>
      )}
      <Mistake error={give.error} />
      <p className="text-muted" role="status">
        {poll.mine ? "It is in. You may change it until it is closed." : "Nobody sees who answered what."}
      </p>
    </>
  );
}
