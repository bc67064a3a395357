import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { useNavigate } from "react-router";
import { RequestError, request } from "../api/client";
import { keptQuery } from "../api/queries";
import type { KeptForReport } from "../api/types";
import { useToast } from "../app/toasts";
import { useRemembered } from "../lib/remembered";
import { upperFirst } from "../lib/words";
import type { Keeps } from "./kept";

/** Kept is what of a problem is kept for a report, and for which: the problem's own, or one of several problems. */
export interface Kept extends Keeps {
  /** The id of the report, "" where it has not begun. */
  report: string;
  title: string;
  /** The report that was chosen, "" for the problem's own. */
  into: string;
  setInto: (report: string) => void;
}

/** useKept holds what of a problem is kept for the report that was chosen. */
export function useKept(problem: string): Kept {
  const client = useQueryClient();
  const toast = useToast();
  const navigate = useNavigate();
  const [into, setInto] = useRemembered("report-into", "");
  const { data, error } = useQuery(keptQuery(problem, into));
  // A report that was deleted keeps nothing more.
  const gone = into !== "" && error instanceof RequestError && error.status === 404;
  useEffect(() => {
    if (gone) setInto("");
  });
  const { mutate } = useMutation({
    mutationFn: ({ at, away }: { at: string; away: boolean; what: string }) =>
      request<KeptForReport>("POST", `/api/problems/${problem}/keep`, { report: into || undefined, at, away }),
    scope: { id: `keep ${problem}` }, // one after the other: each answer tells of all before it
    onSuccess: (kept, { at, away, what }) => {
      client.setQueryData(keptQuery(problem, into).queryKey, kept);
      client.invalidateQueries({ queryKey: ["reports"] });
      client.removeQueries({ queryKey: ["report", kept.report] });
      toast(
        away
          ? {
              name: "keep",
              says: `${upperFirst(what)} is no longer in the report.`,
              action: { label: "Undo", act: () => mutate({ at, away: false, what }) },
            }
          : {
              name: "keep",
              says: `${upperFirst(what)} is kept for “${kept.title || "Report"}”.`,
              action: { label: "Open the report", act: () => navigate(`/reports/${kept.report}`) },
            },
      );
    },
    onError: (failure) => {
      client.invalidateQueries({ queryKey: keptQuery(problem, into).queryKey });
      toast({ says: failure.message, bad: true });
    },
  });
  return useMemo(() => {
    const at = new Set(data?.at ?? []);
    return {
      at,
      toggle: (each, what) => mutate({ at: each, away: at.has(each), what }),
      report: data?.report ?? "",
      title: data?.title ?? "",
      into,
      setInto,
    };
  }, [data, mutate, into, setInto]);
}
