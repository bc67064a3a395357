import { Keyboard, Moon, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useShortcuts } from "../lib/keys";
import { useSetting } from "../lib/settings";
import { KeysDialog } from "./KeysDialog";

interface Props {
  title: string;
  children?: React.ReactNode;
  /** What stands at the right of the bar. */
  tools?: React.ReactNode;
}

/** Shell is the bar at the top of every page, and the page under it. */
export function Shell({ title, children, tools }: Props) {
  const [theme, setTheme] = useSetting("theme");
  const [keysOpen, setKeysOpen] = useState(false);
  const navigate = useNavigate();
  const otherTheme = theme === "night" ? "day" : "night";
  useEffect(() => {
    document.title = title ? `${title} · Grund` : "Grund";
  }, [title]);
  useShortcuts([
    { key: "?", says: "This list of keys", act: () => setKeysOpen(true) },
    { key: "d", says: "Day or night", act: () => setTheme(otherTheme) },
    { key: "h", says: "To all problems", act: () => navigate("/") },
  ]);
  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#main" className="sr-only focus:not-sr-only focus:p-2">
        Skip to the content
      </a>
      <header className="screen-only sticky top-0 z-20 flex min-h-[3.1rem] items-center gap-x-4 border-base-300 border-b bg-base-100 px-[1.5rem] max-sm:px-3">
        <Link to="/" className="font-semibold font-serif text-[1.45rem] text-primary leading-none">
          Grund
        </Link>
        {title && (
          <nav aria-label="You are here" className="min-w-0 flex-1 truncate">
            <Link
              to="/"
              className="text-muted underline decoration-base-300 underline-offset-4 hover:text-ink max-sm:hidden"
            >
              Problems
            </Link>
            <span className="px-2 text-muted max-sm:hidden" aria-hidden="true">
              /
            </span>
            <span className="font-semibold" aria-current="page">
              {title}
            </span>
          </nav>
        )}
        {!title && <span className="flex-1" />}
        {tools}
        <div className="flex items-center gap-1">
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            aria-label={otherTheme === "night" ? "Night theme" : "Day theme"}
            title={`${otherTheme === "night" ? "Night" : "Day"} theme (d)`}
            onClick={() => setTheme(otherTheme)}
          >
            {theme === "night" ? <Sun size="1.2em" aria-hidden="true" /> : <Moon size="1.2em" aria-hidden="true" />}
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square max-sm:hidden"
            aria-label="Keys"
            title="Keys (?)"
            onClick={() => setKeysOpen(true)}
          >
            <Keyboard size="1.2em" aria-hidden="true" />
          </button>
        </div>
      </header>
      <main id="main" className="flex flex-1 flex-col">
        {children}
      </main>
      {keysOpen && <KeysDialog onClose={() => setKeysOpen(false)} />}
    </div>
  );
}
