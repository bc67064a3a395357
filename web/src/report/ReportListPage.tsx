import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Bookmark, Plus, Trash2 } from "lucide-react";
import { Link, useNavigate } from "react-router";
import { request } from "../api/client";
import { reportsQuery } from "../api/queries";
import type { LabReport, ReportListing } from "../api/types";
import { Message } from "../app/Message";
import { Shell } from "../app/Shell";
import { useToast } from "../app/toasts";
import { useDeletion } from "../app/useDeletion";
import { useShortcuts } from "../lib/keys";
import { counted } from "../lib/words";

/** ReportListPage has the person's reports, and begins another. */
export function ReportListPage() {
  const { data: reports, error, refetch } = useQuery(reportsQuery);
  const navigate = useNavigate();
  const client = useQueryClient();
  const toast = useToast();
  const create = useMutation({
    mutationFn: () => request<LabReport>("POST", "/api/reports", { title: "", parts: [] }),
    onSuccess: (report) => {
      client.invalidateQueries({ queryKey: ["reports"] });
      navigate(`/reports/${report.id}`);
    },
    onError: (failure) => toast({ says: failure.message, bad: true }),
  });
  useShortcuts([{ key: "n", says: "New report", act: () => create.mutate() }]);
  if (error && !reports) {
    return (
      <Shell title="Reports">
        <Message title="The reports cannot be shown." says={error.message} retry={() => refetch()} />
      </Shell>
    );
  }
  return (
    <Shell title="Reports">
      <div className="mx-auto w-full max-w-4xl flex-1 px-8 py-8 max-sm:px-4">
        <h1 className="font-semibold font-serif text-[2rem] leading-tight">Reports</h1>
        <p className="mt-1 max-w-xl text-muted">
          What you keep of problems with{" "}
          <Bookmark size="1.05em" className="inline align-[-0.15em]" aria-label="the bookmark" />, in your order, with
          your words between. The numbers follow their problems.
        </p>
        <button
          type="button"
          className="btn btn-primary mt-5"
          disabled={create.isPending}
          onClick={() => create.mutate()}
        >
          <Plus size="1.2em" aria-hidden="true" />
          New report
        </button>
        {reports === undefined ? (
          <p className="mt-8 text-muted" role="status">
            Fetching the reports …
          </p>
        ) : reports.length === 0 ? (
          <p className="mt-8 text-muted">
            None yet. A problem’s own report begins with the first thing that you keep of it.
          </p>
        ) : (
          <ul className="mt-8 border-base-300 border-t">
            {reports.map((report) => (
              <Row key={report.id} report={report} />
            ))}
          </ul>
        )}
      </div>
    </Shell>
  );
}

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

function Row({ report }: { report: ReportListing }) {
  const client = useQueryClient();
  const title = report.title || "Untitled report";
  const remove = useDeletion({
    at: `/api/reports/${report.id}`,
    version: () => report.version,
    says: `“${title}” is deleted.`,
    refresh: () => {
      client.invalidateQueries({ queryKey: ["reports"] });
      client.invalidateQueries({ queryKey: ["kept"] });
    },
  });
  return (
    <li className="flex items-start gap-3 border-base-300 border-b py-3">
      <div className="min-w-0 flex-1">
        <Link to={`/reports/${report.id}`} className="font-semibold font-serif text-[1.2rem] hover:text-primary">
          {title}
        </Link>
        <p className="text-[0.9rem] text-muted">
          {counted(report.parts, "part")} · {day.format(new Date(report.updated_at))}
        </p>
      </div>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`Delete “${title}”`}
        title="Delete"
        onClick={remove}
      >
        <Trash2 size="1.1em" aria-hidden="true" />
      </button>
    </li>
  );
}
