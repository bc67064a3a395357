import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { request } from "../api/client";
import type { AskList, OpenPollRequest, PollView } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Mistake } from "../app/Mistake";
import { useRemembered } from "../lib/remembered";
import { stepTitles } from "../problem/steps";
import { PollPanel } from "./PollPanel";
import { classesQuery } from "./queries";

/** AskClass asks a class one thing of the problem that is on the screen: students answer on their phones. */
export function AskClass({ problem, onClose }: { problem: string; onClose: () => void }) {
  const { data: list } = useQuery(classesQuery);
  const { data: asks, error } = useQuery({
    queryKey: ["asks", problem],
    queryFn: () => request<AskList>("GET", `/api/problems/${problem}/asks`),
  });
  const teaching = (list?.classes ?? []).filter((each) => each.in === "instructor" && !each.archived);
  const [remembered, setOf] = useRemembered("ask-class", "");
  const of = teaching.find((each) => each.id === remembered) ?? teaching[0];
  const [ask, setAsk] = useState("");
  const [poll, setPoll] = useState<PollView | null>(null);
  const open = useMutation({
    mutationFn: (body: OpenPollRequest) => request<PollView>("POST", `/api/classes/${of?.id}/polls`, body),
    onSuccess: setPoll,
  });
  const steps = [...new Set(asks?.asks.map((each) => each.step))];
  if (poll)
    return (
      <Dialog title={of ? `Asking ${of.name}` : "Asking"} onClose={onClose} whole>
        <PollPanel id={poll.id} code={of?.code} />
      </Dialog>
    );
  return (
    <Dialog title="Ask the class" onClose={onClose}>
      {list && teaching.length === 0 ? (
        <p>
          You teach no class yet.{" "}
          <Link to="/classes" className="act">
            Make one
          </Link>
          , and students join it with a code.
        </p>
      ) : (
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            open.mutate({ problem, ask });
          }}
        >
          <Mistake error={error ?? open.error} />
          {teaching.length > 1 && (
            <label className="grid gap-1">
              <span className="text-muted">Which class</span>
              <select className="select w-full bg-sheet" value={of?.id} onChange={(event) => setOf(event.target.value)}>
                {teaching.map((each) => (
                  <option key={each.id} value={each.id}>
                    {each.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <label className="grid gap-1">
            <span className="text-muted">What is asked</span>
            <select className="select w-full bg-sheet" value={ask} onChange={(event) => setAsk(event.target.value)}>
              <option value="">choose one of the answers on the way</option>
              {steps.map((step) => (
                <optgroup key={step} label={stepTitles[step] ?? step}>
                  {asks?.asks
                    .filter((each) => each.step === step && each.kind !== "sentence")
                    .map((each) => (
                      <option key={each.id} value={each.id}>
                        {each.label}
                      </option>
                    ))}
                </optgroup>
              ))}
            </select>
          </label>
          <button type="submit" className="btn btn-primary w-fit" disabled={ask === "" || !of || open.isPending}>
            {of ? `Ask ${of.name}` : "Ask"}
          </button>
        </form>
      )}
    </Dialog>
  );
}
