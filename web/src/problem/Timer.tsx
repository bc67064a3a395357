import { AlarmClock, Minus, Plus, X } from "lucide-react";
import { useEffect, useState } from "react";
import { useRemembered } from "../lib/remembered";

const minute = 60_000;
const longest = 60 * minute;

/** leftOf writes how much time is left, in minutes and seconds; a part of a second counts as one. */
export function leftOf(milliseconds: number): string {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}

/** Timer counts minutes down where a class can see them: "three minutes, then we compare". It begins with as many as last. */
export function Timer() {
  const [minutes, setMinutes] = useRemembered("timer-minutes", 3);
  const [ends, setEnds] = useState<number | null>(null);
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (ends === null) return;
    const tick = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(tick);
  }, [ends]);
  if (ends === null) {
    return (
      <button
        type="button"
        className="btn btn-sm max-sm:hidden"
        title={`Count ${minutes} min down`}
        onClick={() => {
          setNow(Date.now());
          setEnds(Date.now() + minutes * minute);
        }}
      >
        <AlarmClock size="1.1em" aria-hidden="true" />
        {minutes} min
      </button>
    );
  }
  const left = ends - now;
  const add = (by: number) => {
    const next = Math.min(now + longest, Math.max(left, 0) + now + by * minute);
    setEnds(Math.max(now, next));
    setMinutes(Math.min(60, Math.max(1, minutes + by)));
  };
  return (
    <div className="flex items-center gap-1">
      <span
        role="timer"
        aria-label="Time left"
        className={`rounded-field px-2 font-semibold font-serif text-[1.6rem] tabular-nums leading-tight ${left <= 0 ? "bg-ink text-base-100" : ""}`}
      >
        {leftOf(left)}
      </span>
      <span className="sr-only" role="status">
        {left <= 0 ? "Time is up" : ""}
      </span>
      <button type="button" className="btn btn-sm btn-square" aria-label="A minute less" onClick={() => add(-1)}>
        <Minus size="1.1em" aria-hidden="true" />
      </button>
      <button type="button" className="btn btn-sm btn-square" aria-label="A minute more" onClick={() => add(1)}>
        <Plus size="1.1em" aria-hidden="true" />
      </button>
      <button
        type="button"
        className="btn btn-sm btn-square"
        aria-label="Put the timer away"
        onClick={() => setEnds(null)}
      >
        <X size="1.1em" aria-hidden="true" />
      </button>
    </div>
  );
}
