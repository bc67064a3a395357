import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { request } from "../api/client";
import type { AskList } from "../api/types";
import { Dialog } from "../app/Dialog";
import { readNumber } from "../lib/number";
import type { EditedProblem } from "./set";

interface Props {
  problem: EditedProblem;
  /** Keeps the set, so that the server has the problem. */
  before: () => Promise<boolean>;
  /** The problem's id at the server, once it is kept. */
  place: () => string;
  onPoints: (points: Record<string, number>) => void;
  onClose: () => void;
}

/** PointsDialog says what each ask of a problem is worth; 1 where nothing is said. */
export function PointsDialog({ problem, before, place, onPoints, onClose }: Props) {
  const { data, error } = useQuery({
    queryKey: ["asks-of-set", problem.id],
    queryFn: async () => {
      if (!(await before())) throw new Error("The set could not be kept, so that what it asks is not known.");
      return request<AskList>("GET", `/api/set-problems/${place()}/asks`);
    },
    staleTime: 0,
  });
  const [points, setPoints] = useState(problem.points);
  const total = (data?.asks ?? []).reduce((sum, ask) => sum + (points[ask.id] ?? 1), 0);
  const set = (ask: string, text: string) => {
    const value = readNumber(text);
    if (!Number.isFinite(value) || value < 0 || value > 1000) return;
    const { [ask]: _, ...others } = points;
    const next = value === 1 ? others : { ...others, [ask]: value };
    setPoints(next);
    onPoints(next);
  };
  return (
    <Dialog title={`Points: ${problem.title}`} onClose={onClose}>
      {error && (
        <p role="alert" className="text-(--region-text)">
          {error.message}
        </p>
      )}
      {!data && !error && <p role="status">Working out what it asks …</p>}
      {data && (
        <>
          <p className="text-muted">
            Points for each answer, {total} in all. What follows from an earlier slip counts as right.
          </p>
          <ul className="mt-3 max-h-[55dvh] overflow-y-auto border-base-300 border-y">
            {data.asks.map((ask) => (
              <li key={ask.id} className="border-base-300 border-b last:border-0">
                <label className="flex items-center gap-3 py-1">
                  <span className="flex-1">{ask.label}</span>
                  <input
                    className="input input-sm w-16 bg-sheet text-right"
                    inputMode="decimal"
                    aria-label={`Points for ${ask.label}`}
                    defaultValue={String(points[ask.id] ?? 1)}
                    onBlur={(event) => set(ask.id, event.target.value)}
                  />
                </label>
              </li>
            ))}
          </ul>
        </>
      )}
    </Dialog>
  );
}
