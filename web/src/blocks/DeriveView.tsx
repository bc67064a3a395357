import { useMutation } from "@tanstack/react-query";
import type { DeriveBlock } from "../api/types";
import { useSolution } from "../solution/solution";

/** DeriveView keeps variables that follow from the data by a formula with the data set. */
export function DeriveView({ block }: { block: DeriveBlock }) {
  const { derive } = useSolution();
  const keep = useMutation({ mutationFn: () => derive?.(block.columns) ?? Promise.resolve() });
  if (!derive) return null;
  return (
    <p className="screen-only">
      <button type="button" className="act" disabled={keep.isPending} onClick={() => keep.mutate()}>
        {keep.isPending ? "Keeping …" : block.label}
      </button>
      {keep.isError && (
        <span role="alert" className="ml-3 text-(--region-text)">
          {keep.error.message}
        </span>
      )}
    </p>
  );
}
