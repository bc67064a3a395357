import { useEffect, useRef, useState } from "react";
import type { Item } from "../api/types";
import { TeX } from "../blocks/TeX";
import { useDoing } from "./context";
import { credited, Mark } from "./marks";
import { Row } from "./Row";
import { Said } from "./Said";

/** NumberAsk is a number that the person writes in the margin of the thread. */
export function NumberAsk({ item }: { item: Item }) {
  const { waits } = useDoing();
  const waiting = waits(item.id);
  const id = `ask-${item.id}`;
  return (
    <Row
      margin={
        <span className="flex items-center justify-end gap-1.5 max-sm:justify-start">
          {item.symbol && (
            <span className="whitespace-nowrap text-[0.98rem]">
              <TeX tex={`${item.symbol} =`} />
            </span>
          )}
          <AnswerField item={item} id={id} />
          {item.unit && <span className="text-[0.9rem] text-muted">{item.unit}</span>}
        </span>
      }
      mark={<Mark item={item} waiting={waiting} />}
    >
      <label htmlFor={id} className="text-muted">
        {item.label}
      </label>
      <Said item={item} waiting={waiting} />
    </Row>
  );
}

/**
 * AnswerField is where an answer is typed. Enter gives it; what stands there when it is left is given too. An answer that
 * is right leads on to the next ask, and so does Enter on one that was given.
 */
export function AnswerField({
  item,
  id,
  small = false,
  label,
}: {
  item: Item;
  id: string;
  small?: boolean;
  label?: string;
}) {
  const { answer, next, waits, fixed } = useDoing();
  const [typed, setTyped] = useState(item.text ?? "");
  const [given, setGiven] = useState(item.text ?? "");
  const wanted = useRef(false); // whether the verdict leads on
  const waiting = waits(item.id);
  if (!waiting && (item.text ?? "") !== given && given !== typed) setGiven(item.text ?? "");
  // Another tab, or undo, changed the answer.
  useEffect(() => {
    setTyped(item.text ?? "");
    setGiven(item.text ?? "");
  }, [item.text]);
  const give = () => {
    if (typed.trim() === "" || typed === given) return false;
    setGiven(typed);
    answer(item.id, typed);
    return true;
  };
  useEffect(() => {
    if (waiting || !wanted.current) return;
    wanted.current = false;
    const field = document.getElementById(id);
    if (document.activeElement !== field) return;
    if (credited(item)) next(item.id);
    else (field as HTMLInputElement).select();
  }, [waiting, item, id, next]);
  const wrong = item.verdict && ["slip", "near", "wrong"].includes(item.verdict.verdict) && typed === given;
  return (
    <input
      id={id}
      data-ask={item.id}
      aria-label={label}
      aria-invalid={wrong || undefined}
      readOnly={fixed || item.left === 0}
      className={`input input-sm bg-sheet text-right font-semibold font-serif tabular-nums ${small ? "w-17 px-1.5" : "w-24 text-[1.08rem]"}`}
      value={typed}
      inputMode="text"
      autoComplete="off"
      spellCheck={false}
      maxLength={200}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => give()}
      onKeyDown={(event) => {
        if (event.key === "Escape") {
          setTyped(given);
          event.preventDefault();
        }
        if (event.key !== "Enter") return;
        event.preventDefault();
        wanted.current = give();
        if (!wanted.current) next(item.id);
      }}
    />
  );
}
