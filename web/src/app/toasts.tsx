import { X } from "lucide-react";
import { createContext, useCallback, useContext, useState } from "react";

interface Toast {
  id: number;
  says: string;
  action?: { label: string; act: () => void };
  bad?: boolean;
  /** Takes the place of the one before it of this name. */
  name?: string;
}

const Context = createContext<(toast: Omit<Toast, "id">) => void>(() => {});

/** useToast returns the function that says something at the foot of the page. */
export const useToast = () => useContext(Context);

let count = 0;

/** Toasts shows what was said last, for long enough to act on it. */
export function Toasts({ children }: { children: React.ReactNode }) {
  const [toasts, setToasts] = useState<Toast[]>([]);
  const close = useCallback((id: number) => setToasts((all) => all.filter((toast) => toast.id !== id)), []);
  const add = useCallback(
    (toast: Omit<Toast, "id">) => {
      const id = ++count;
      setToasts((all) => [
        ...all.filter((each) => toast.name === undefined || each.name !== toast.name).slice(-2),
        { ...toast, id },
      ]);
      setTimeout(() => close(id), toast.action ? 20_000 : 7_000);
    },
    [close],
  );
  return (
    <Context.Provider value={add}>
      {children}
      <div
        className="screen-only fixed bottom-4 left-1/2 z-40 grid w-[min(34rem,94vw)] -translate-x-1/2 gap-2"
        role="status"
      >
        {toasts.map((toast) => (
          <div
            key={toast.id}
            className={`flex items-center gap-3 rounded-box border bg-sheet px-4 py-2.5 shadow-lg ${toast.bad ? "border-region" : "border-base-300"}`}
          >
            <span className="flex-1">{toast.says}</span>
            {toast.action && (
              <button
                type="button"
                className="act"
                onClick={() => {
                  toast.action?.act();
                  close(toast.id);
                }}
              >
                {toast.action.label}
              </button>
            )}
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label="Close"
              onClick={() => close(toast.id)}
            >
              <X size="1.1em" aria-hidden="true" />
            </button>
          </div>
        ))}
      </div>
    </Context.Provider>
  );
}
