import { Check, Copy, TriangleAlert } from "lucide-react";
import { type Copying, copyingSays, useCopying } from "./useCopying";

const icons = { ready: Copy, copied: Check, failed: TriangleAlert };

/** CopyFace is what a button shows that copies: a sheet on a sheet, and for a moment whether the copying went well. */
export function CopyFace({ copying, words }: { copying: Copying; words?: string }) {
  const Icon = icons[copying];
  return (
    <>
      <Icon size="1.1em" aria-hidden="true" />
      {words}
      <span className="sr-only" role="status">
        {copyingSays[copying]}
      </span>
    </>
  );
}

/** The look of what copies. */
export const copyLook =
  "screen-only btn btn-ghost btn-sm h-auto min-h-0 shrink-0 gap-1.5 px-1.5 py-1 font-normal text-muted";

interface Props {
  label: string;
  copy: () => Promise<void>;
  words?: string;
}

/** CopyButton copies, and says for a moment whether it did. */
export function CopyButton({ label, copy, words }: Props) {
  const { copying, run } = useCopying();
  return (
    <button
      type="button"
      className={copyLook}
      aria-label={words ? undefined : label}
      title={label}
      onClick={() => run(copy)}
    >
      <CopyFace copying={copying} words={words} />
    </button>
  );
}
