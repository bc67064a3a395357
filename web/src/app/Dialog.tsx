import { X } from "lucide-react";
import { useEffect, useId, useRef } from "react";

interface Props {
  title: string;
  onClose: () => void;
  children: React.ReactNode;
  wide?: boolean;
}

/** Dialog is a page over the page; Escape and a click outside close it. */
export function Dialog({ title, onClose, children, wide = false }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const heading = useId();
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: Escape closes a dialog by itself
    <dialog
      ref={dialog}
      aria-labelledby={heading}
      className={`m-auto max-h-[88dvh] overflow-y-auto rounded-box border border-base-300 bg-base-100 p-0 text-ink backdrop:bg-black/40 ${wide ? "w-[min(60rem,94vw)]" : "w-[min(34rem,94vw)]"}`}
      onClose={onClose}
      onClick={(event) => event.target === dialog.current && onClose()}
    >
      <div className="p-6 max-sm:p-4">
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
    </dialog>
  );
}
