import type { ReactNode } from "react";

/** CopyCorner lets what is in it be copied from its corner, when the pointer or the keys are there. */
export function CopyCorner({ menu, children }: { menu: ReactNode; children: ReactNode }) {
  return (
    <div className="group/corner relative">
      {children}
      <span className="screen-only absolute top-1 right-1 flex rounded-field bg-sheet opacity-0 focus-within:opacity-100 group-hover/corner:opacity-100 pointer-coarse:opacity-100">
        {menu}
      </span>
    </div>
  );
}
