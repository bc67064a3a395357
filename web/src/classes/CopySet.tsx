import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { request } from "../api/client";
import type { CopySetRequest, SetView } from "../api/types";
import { Dialog } from "../app/Dialog";
import { Mistake } from "../app/Mistake";
import { useToast } from "../app/toasts";
import { classesQuery } from "./queries";

interface Props {
  set: SetView;
  /** What keeps the changes that are not kept yet. */
  before: () => Promise<boolean>;
  onClose: () => void;
}

/** CopySet copies a set into the same class, or another that one teaches. */
export function CopySet({ set, before, onClose }: Props) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const toast = useToast();
  const { data: list } = useQuery(classesQuery);
  const taught = (list?.classes ?? []).filter((each) => each.in === "instructor" && !each.archived);
  const [into, setInto] = useState(set.class);
  const copy = useMutation({
    mutationFn: async (body: CopySetRequest) => {
      await before();
      return request<SetView>("POST", `/api/sets/${set.id}/copy`, body);
    },
    onSuccess: (twin) => {
      client.invalidateQueries({ queryKey: ["sets", "of"] });
      onClose();
      navigate(`/sets/${twin.id}/edit`);
      toast({ says: `This is the copy, in ${twin.class_name}. It opens and is due when you say so.` });
    },
  });
  return (
    <Dialog title="Make a copy" onClose={onClose}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          copy.mutate({ class: into });
        }}
      >
        <label className="grid gap-1">
          <span className="text-muted">Into which class</span>
          <select className="select w-full bg-sheet" value={into} onChange={(event) => setInto(event.target.value)}>
            {taught.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <p className="text-muted">
          Its problems, their points and how they are asked go along; dates and attempts do not.
        </p>
        <Mistake error={copy.error} />
        <button type="submit" className="btn btn-primary w-fit" disabled={copy.isPending || taught.length === 0}>
          Copy
        </button>
      </form>
    </Dialog>
  );
}
