import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Pin } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import { problemQuery, problemsQuery } from "../api/queries";
import type { Picture, PutRequest, Saved } from "../api/types";
import { useToast } from "../app/toasts";
import { useSheet } from "./context";

interface Props {
  picture: Picture;
  title: string;
  /** The problem that is offered first. */
  problem: string | null;
}

/** KeepPicture keeps a picture with a problem about this data set, in the step where the data are looked at. */
export function KeepPicture({ picture, title, problem }: Props) {
  const { id, sheet, flush } = useSheet();
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const [chosen, setChosen] = useState(problem);
  const { data: problems } = useQuery(problemsQuery);
  const about = problems?.filter((each) => each.data_set === id) ?? [];
  const into = about.find((each) => each.id === chosen) ?? about[0];
  const refresh = () => client.invalidateQueries({ queryKey: ["problem"] });
  const put = async (change: (pictures: Picture[]) => Picture[]) => {
    await flush();
    const fresh = await client.fetchQuery({ ...problemQuery(into?.id ?? ""), staleTime: 0 });
    const draft = fresh.draft as NonNullable<typeof fresh.draft>;
    const body: PutRequest = {
      version: fresh.version,
      draft: { ...draft, pictures: change(draft.pictures ?? []) },
    };
    await request<Saved>("PUT", `/api/problems/${fresh.id}`, body);
    refresh();
  };
  const fail = (error: Error) => toast({ says: error.message, bad: true });
  const takeBack = useMutation({ mutationFn: () => put((pictures) => pictures.slice(0, -1)), onError: fail });
  const keep = useMutation({
    mutationFn: (kept: Picture) => put((pictures) => [...pictures, kept]),
    onSuccess: () => {
      takeBack.reset();
      const to = `/problems/${into?.id}`;
      toast({ says: `“${title}” stands in the look step.`, action: { label: "Show", act: () => navigate(to) } });
    },
    onError: fail,
  });
  const justKept = keep.isSuccess && !takeBack.isSuccess && JSON.stringify(keep.variables) === JSON.stringify(picture);
  // The variables of a table of counts are no columns that a problem could draw.
  if (!into || sheet.form === "counts") return null;
  const name = (each: typeof into) => each.title || "Untitled problem";
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
      <button
        type="button"
        className="btn btn-sm max-w-full flex-nowrap gap-1.5"
        disabled={keep.isPending}
        onClick={() => keep.mutate(picture)}
      >
        <Pin size="1.1em" className="shrink-0" aria-hidden="true" />
        <span className="truncate">{about.length > 1 ? "Keep with" : `Keep with “${name(into)}”`}</span>
      </button>
      {about.length > 1 && (
        <select
          aria-label="The problem to keep the picture with"
          className="select select-sm min-w-0 flex-1 bg-sheet"
          value={into.id}
          onChange={(event) => setChosen(event.target.value)}
        >
          {about.map((each) => (
            <option key={each.id} value={each.id}>
              {name(each)}
            </option>
          ))}
        </select>
      )}
      {justKept && (
        <button type="button" className="act" onClick={() => takeBack.mutate()}>
          Take it back
        </button>
      )}
    </div>
  );
}
