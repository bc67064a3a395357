import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Share2 } from "lucide-react";
import { useState } from "react";
import { request } from "../api/client";
import type { ShareLink } from "../api/types";
import { copyText } from "../lib/copy";
import { CopyButton } from "./CopyButton";
import { Dialog } from "./Dialog";
import { useMe } from "./me";
import { useToast } from "./toasts";

interface Props {
  /** Where it is: /api/problems/7. */
  at: string;
  /** What it is, as "problem". */
  what: string;
}

/** ShareButton offers to share something by a link; nothing where nobody else works. */
export function ShareButton({ at, what }: Props) {
  const [open, setOpen] = useState(false);
  if (useMe().alone) return null;
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square max-sm:hidden"
        aria-label={`Share the ${what}`}
        title={`Share the ${what} by a link`}
        onClick={() => setOpen(true)}
      >
        <Share2 size="1.1em" aria-hidden="true" />
      </button>
      {open && <ShareDialog at={at} what={what} onClose={() => setOpen(false)} />}
    </>
  );
}

/** SharedBy says in a list that something is shared by a link, and opens what is done about it. */
export function SharedBy({ at, what }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      {" · "}
      <button type="button" className="act" onClick={() => setOpen(true)}>
        shared by a link
      </button>
      {open && <ShareDialog at={at} what={what} onClose={() => setOpen(false)} />}
    </>
  );
}

/** ShareDialog makes the link with which others read and copy something, shows it, and takes it back. */
export function ShareDialog({ at, what, onClose }: Props & { onClose: () => void }) {
  const client = useQueryClient();
  const toast = useToast();
  const path = `${at}/share`;
  const query = ["share", at];
  const { data: link, error } = useQuery({ queryKey: query, queryFn: () => request<ShareLink>("GET", path) });
  const change = useMutation({
    mutationFn: (method: "POST" | "DELETE") => request<ShareLink>(method, path),
    onSuccess: (now) => {
      client.setQueryData(query, now);
      client.invalidateQueries({ queryKey: ["problems"] });
      client.invalidateQueries({ queryKey: ["data-sets"] });
      if (now.path === "") toast({ says: "The link is taken back: it leads nowhere any more." });
    },
  });
  const url = link?.path ? location.origin + link.path : "";
  const failure = error ?? change.error;
  return (
    <Dialog title={`Share the ${what} by a link`} onClose={onClose}>
      {failure && (
        <p role="alert" className="mb-3 border-region border-l-2 pl-3 text-(--region-text)">
          {failure.message}
        </p>
      )}
      {link && !url && (
        <>
          <p>
            Whoever has the link can read the {what} as it is at the time
            {what === "problem" && ", with its data and your notes, work it"}, and take a copy of it. Nobody can change
            yours, and no name of yours is shown.
          </p>
          <button
            type="button"
            className="btn btn-primary mt-5"
            disabled={change.isPending}
            onClick={() => change.mutate("POST")}
          >
            Make a link
          </button>
        </>
      )}
      {url && (
        <>
          <div className="flex gap-2">
            <input
              readOnly
              aria-label="The link"
              className="input min-w-0 flex-1 bg-sheet"
              value={url}
              onFocus={(event) => event.target.select()}
            />
            <CopyButton label="Copy the link" words="Copy" copy={() => copyText(url)} />
          </div>
          <p className="mt-3 text-muted">
            Whoever has it can read the {what} as it is at the time, and take a copy of it. What they copied stays
            theirs when you take the link back.
          </p>
          <button
            type="button"
            className="btn btn-outline btn-sm mt-5 border-base-300"
            disabled={change.isPending}
            onClick={() => change.mutate("DELETE")}
          >
            Take the link back
          </button>
        </>
      )}
    </Dialog>
  );
}
