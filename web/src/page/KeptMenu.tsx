import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Bookmark } from "lucide-react";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import { reportsQuery } from "../api/queries";
import type { LabReport } from "../api/types";
import { Menu, type MenuItem } from "../app/Menu";
import { useToast } from "../app/toasts";
import type { Kept } from "../kept/useKept";
import { counted } from "../lib/words";

/** How many reports the menu offers; the others are in the list of reports. */
const most = 8;

/** KeptMenu opens the report for which is kept, and chooses another one: the problem's own, or one of several problems. */
export function KeptMenu({ problem, kept }: { problem: string; kept: Kept }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const toast = useToast();
  const { data: reports } = useQuery(reportsQuery);
  const begin = useMutation({
    mutationFn: () => request<LabReport>("POST", "/api/reports", { title: "Lab report", parts: [] }),
    onSuccess: (report) => {
      client.invalidateQueries({ queryKey: ["reports"] });
      kept.setInto(report.id);
      toast({ says: "What you keep from now on goes into the new report, of this problem and of others." });
    },
    onError: (error) => toast({ says: error.message, bad: true }),
  });
  const items: MenuItem[] = [
    ...(kept.report ? [{ words: "Open the report", act: () => navigate(`/reports/${kept.report}`) }] : []),
    { words: "Keep for this problem’s own report", act: () => kept.setInto(""), chosen: kept.into === "" },
    ...(reports ?? [])
      .filter((report) => report.of === undefined || (report.id === kept.into && report.of !== problem))
      .slice(0, most)
      .map((report) => ({
        name: report.id,
        words: `Keep for “${report.title || "Report"}”`,
        act: () => kept.setInto(report.id),
        chosen: report.id === kept.into,
      })),
    { words: "Begin a report of several problems", act: () => begin.mutate() },
  ];
  const count = kept.at.size;
  return (
    <Menu
      label={count > 0 ? `The report: ${counted(count, "thing")} kept of this problem` : "The report"}
      className="btn btn-ghost btn-sm gap-1 px-1.5 max-sm:px-0.5"
      items={items}
    >
      <Bookmark size="1.15em" aria-hidden="true" fill={count > 0 ? "currentColor" : "none"} />
      {count > 0 && <span className="text-[0.9rem]">{count}</span>}
    </Menu>
  );
}
