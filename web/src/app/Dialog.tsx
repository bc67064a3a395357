import { X } from "lucide-react";
import { useEffect, useId, useRef } from "react";
import { createPortal } from "react-dom";

interface Props {
  title: string;
  onClose: () => void;
  children: React.ReactNode;
  wide?: boolean;
  /** It covers the page wholly: nothing beneath may be read, on a projector say. */
  whole?: boolean;
}

const widths = {
  usual: "m-auto max-h-[88dvh] w-[min(34rem,94vw)] rounded-box border border-base-300",
  wide: "m-auto max-h-[88dvh] w-[min(60rem,94vw)] rounded-box border border-base-300",
  whole: "h-dvh max-h-none w-screen max-w-none",
};

/**
 * Dialog is a page over the page; Escape and a click outside close it. It stands
 * apart from the form or table that it was opened from: nothing done in it reaches them.
 */
export function Dialog({ title, onClose, children, wide = false, whole = false }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const heading = useId();
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  return createPortal(
    <dialog
      ref={dialog}
      aria-labelledby={heading}
      className={`overflow-y-auto bg-base-100 p-0 text-ink backdrop:bg-black/40 ${widths[whole ? "whole" : wide ? "wide" : "usual"]}`}
      onClose={onClose}
      onClick={(event) => {
        event.stopPropagation();
        if (event.target === dialog.current) onClose();
      }}
      onSubmit={(event) => event.stopPropagation()}
      onKeyDown={(event) => event.stopPropagation()}
      onPaste={(event) => event.stopPropagation()}
      onCopy={(event) => event.stopPropagation()}
      onCut={(event) => event.stopPropagation()}
    >
      <div className={whole ? "mx-auto max-w-6xl p-10 max-sm:p-4" : "p-6 max-sm:p-4"}>
        <div className="mb-4 flex items-start justify-between gap-4">
          <h2 id={heading} className="font-semibold font-serif text-[1.4rem] leading-tight">
            {title}
          </h2>
          <button type="button" className="btn btn-ghost btn-sm btn-square" aria-label="Close" onClick={onClose}>
            <X size="1.2em" aria-hidden="true" />
          </button>
        </div>
        {children}
      </div>
    </dialog>,
    document.body,
  );
}
