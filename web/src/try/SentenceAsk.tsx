import { useEffect, useState } from "react";
import type { Item } from "../api/types";
import { useDoing } from "./context";
import { Mark } from "./marks";
import { Row } from "./Row";
import { Said } from "./Said";

/** SentenceAsk is the conclusion in the person's own words; what a grader would underline is said below. */
export function SentenceAsk({ item }: { item: Item }) {
  const { answer, waits, fixed } = useDoing();
  const [typed, setTyped] = useState(item.text ?? "");
  useEffect(() => setTyped(item.text ?? ""), [item.text]);
  const waiting = waits(item.id);
  const id = `ask-${item.id}`;
  const give = () => {
    if (typed.trim() !== "" && typed !== item.text) answer(item.id, typed);
  };
  return (
    <Row mark={<Mark item={item} waiting={waiting} />}>
      <label htmlFor={id} className="text-muted">
        {item.label}
      </label>
      <textarea
        id={id}
        data-ask={item.id}
        className="textarea my-1.5 w-full bg-sheet font-serif text-[1.05rem]"
        rows={3}
        maxLength={1500}
        readOnly={fixed || item.left === 0}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={give}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.shiftKey) {
            event.preventDefault();
            give();
          }
        }}
      />
      <Said item={item} waiting={waiting} />
    </Row>
  );
}
