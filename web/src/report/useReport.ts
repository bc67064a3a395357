import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { request } from "../api/client";
import { reportQuery } from "../api/queries";
import type { LabReport } from "../api/types";
import type { Held, Keeping, Way } from "../lib/keeping";
import { useKeeping } from "../lib/keepings";
import { alike, learnt, over, type Written } from "./report";

const heldOf = (report: LabReport): Held<Written, LabReport> => ({
  state: { title: report.title, parts: report.parts },
  base: report,
});

/** reportWay keeps a report as it is written; what the server notes of how its parts read is learnt. */
function reportWay(client: QueryClient, id: string): Way<Written, LabReport> {
  const path = `/api/reports/${id}`;
  const put = ({ title, parts }: Written, version: number) =>
    request<LabReport>("PUT", path, { version, title, parts }, { outlives: true });
  return {
    quiet: 500,
    together: 2000,
    over,
    alike,
    save: async (written, kept) => {
      const report = await put(written, kept.base.version);
      client.setQueryData(reportQuery(id).queryKey, report);
      client.invalidateQueries({ queryKey: ["reports"] });
      client.invalidateQueries({ queryKey: ["kept"] });
      return report;
    },
    theirs: async () => heldOf(await client.fetchQuery({ ...reportQuery(id), staleTime: 0 })),
    leave: (written, kept, underWay) => {
      put(written, kept.base.version + (underWay ? 1 : 0)).catch(() => {}); // nobody is there any more to be told
    },
  };
}

/** useReport holds a report while it is written. */
export function useReport(report: LabReport) {
  const client = useQueryClient();
  const kept = useKeeping<Written, LabReport>(`report:${report.id}`, heldOf(report), reportWay(client, report.id));
  const { keeping, base, saving } = kept;
  useEffect(() => {
    // What came anew from the server is shown; where only the problems are others, what can be undone stays.
    const before = keeping.snapshot().base;
    if (report.version > before.version) keeping.adopt(heldOf(report));
    else if (report.version === before.version && report !== before) keeping.learn(() => report);
  }, [report, keeping]);
  useLearnt(keeping, base, saving === "kept");
  return kept;
}

/** useLearnt takes over how the parts read that did not say, once all is kept. */
function useLearnt(keeping: Keeping<Written, LabReport>, base: LabReport, settled: boolean) {
  useEffect(() => {
    if (settled) keeping.know((written) => learnt(written, base.parts));
  }, [keeping, base, settled]);
}
