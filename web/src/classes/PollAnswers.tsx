import type { PollGroup, PollView } from "../api/types";
import { Symbols } from "../blocks/Symbols";
import { TeX } from "../blocks/TeX";
import { counted } from "../lib/words";
import { verdictLook, verdictWords } from "../try/marks";

/** shownAnswer is an answer as it reads: the words of a choice, what was typed otherwise. */
export function shownAnswer(poll: PollView, text: string): string {
  return poll.ask.choices?.find((choice) => choice.value === text)?.words ?? text;
}

/**
 * PollAnswers are the answers of a class, piled up by what they are, without names. What they are is said once it is
 * told what is right: until then the class compares.
 */
export function PollAnswers({ poll, large = false }: { poll: PollView; large?: boolean }) {
  if (poll.groups.length === 0) return <p className="text-muted">No answer yet.</p>;
  const most = Math.max(...poll.groups.map((group) => group.count));
  return (
    <ol className={`grid ${large ? "gap-5 text-[clamp(1.1rem,2vw,1.6rem)]" : "gap-3"}`} aria-label="Answers">
      {poll.groups.map((group) => (
        <Group key={`${group.verdict} ${group.slip}`} poll={poll} group={group} most={most} />
      ))}
    </ol>
  );
}

function Group({ poll, group, most }: { poll: PollView; group: PollGroup; most: number }) {
  const { icon: Icon, tone } = verdictLook(group.verdict);
  return (
    <li className="grid grid-cols-[2.4em_1fr] items-center gap-x-4">
      <span className="text-right font-serif font-semibold text-[1.7em] tabular-nums leading-none">{group.count}</span>
      <div className="min-w-0">
        <span className="block h-3 rounded bg-base-300" aria-hidden="true">
          <span
            className="block h-full rounded bg-current opacity-80"
            style={{ width: `${(100 * group.count) / Math.max(1, most)}%` }}
          />
        </span>
        {poll.revealed && (
          <>
            <p className={`mt-1 flex items-center gap-1.5 font-semibold ${tone}`}>
              {Icon && <Icon size="1.1em" aria-hidden="true" />}
              {verdictWords(group.verdict)}
            </p>
            {group.says && <p>{group.says}</p>}
          </>
        )}
        <p className="text-muted">{group.texts.map((text) => shownAnswer(poll, text)).join(" · ")}</p>
      </div>
    </li>
  );
}

/** PollQuestion is what is asked. */
export function PollQuestion({ poll, large = false }: { poll: PollView; large?: boolean }) {
  return (
    <div>
      <p className={large ? "text-[1.3rem] text-muted" : "text-muted"}>{poll.title}</p>
      <p
        className={`font-semibold font-serif leading-tight ${large ? "text-[clamp(1.6rem,4vw,3rem)]" : "text-[1.5rem]"}`}
      >
        {poll.ask.label}
        {poll.ask.symbol && (
          <span className="font-normal">
            {" "}
            <TeX tex={poll.ask.symbol} />
          </span>
        )}
        {poll.ask.unit && <span className="font-normal text-[0.75em] text-muted"> in {poll.ask.unit}</span>}
      </p>
    </div>
  );
}

/** RightAnswer is what is right, once it is told. */
export function RightAnswer({ poll, large = false }: { poll: PollView; large?: boolean }) {
  if (!poll.right) return null;
  return (
    <p
      className={`rounded-box border-[1.5px] border-ink bg-sheet px-4 py-2 ${large ? "text-[clamp(1.1rem,2.4vw,1.9rem)]" : "text-[1.1rem]"}`}
    >
      <span className="text-muted">Right is </span>
      <span className="font-semibold font-serif text-[1.15em]">
        <Symbols text={shownAnswer(poll, poll.right)} />
      </span>
    </p>
  );
}

/** answersIn says how many answers there are. */
export const answersIn = (poll: PollView): string => counted(poll.answers, "answer");
