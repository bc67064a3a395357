import { CircleUserRound, Keyboard, Moon, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import { useShortcuts } from "../lib/keys";
import { usePreference } from "../lib/preferences";
import { KeysDialog } from "./KeysDialog";
import { Menu } from "./Menu";
import { Moment } from "./Moment";
import { useMe } from "./me";

interface Props {
  title: string;
  children?: React.ReactNode;
  /** What stands at the right of the bar. */
  tools?: React.ReactNode;
}

const sections = [
  { to: "/", title: "Problems" },
  { to: "/data", title: "Data" },
  { to: "/reports", title: "Reports" },
  { to: "/classes", title: "Classes" }, // where many work
];

/** inSection reports whether a page is one of a section's. */
const inSection = (section: string, pathname: string): boolean =>
  section === "/"
    ? pathname === "/" || pathname.startsWith("/problems")
    : pathname.startsWith(section) || (section === "/classes" && pathname.startsWith("/sets"));

/** isSection tells whether a title is that of a whole section, which the bar has already. */
const isSection = (title: string): boolean => sections.some((section) => section.title === title);

/** Person is who is signed in, with the ways to the account and out; nothing where nobody signs in. */
function Person() {
  const { alone, person } = useMe();
  const navigate = useNavigate();
  if (alone || !person) return null;
  const guest = person.role === "guest";
  const name = guest ? "Guest" : person.name || person.user_name || "";
  const items = [
    ...(guest
      ? [
          { words: "Keep this work under a name", act: () => navigate("/keep") },
          { words: "Sign in", act: () => navigate("/sign-in") },
        ]
      : []),
    { words: "Account", act: () => navigate("/account") },
    ...(person.role === "administrator" ? [{ words: "People", act: () => navigate("/people") }] : []),
    ...(guest ? [] : [{ words: "Sign out", act: () => navigate("/sign-out") }]),
  ];
  return (
    <Menu label={`${name}: account`} className="btn btn-ghost btn-sm gap-1.5 px-1.5 font-normal" items={items}>
      <CircleUserRound size="1.2em" aria-hidden="true" />
      <span className="max-w-32 truncate max-lg:hidden">{name}</span>
    </Menu>
  );
}

/** Shell is the bar at the top of every page, and the page under it. */
export function Shell({ title, children, tools }: Props) {
  const [theme, setTheme] = usePreference("theme");
  const [keysOpen, setKeysOpen] = useState(false);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const me = useMe();
  const otherTheme = theme === "night" ? "day" : "night";
  useEffect(() => {
    document.title = title ? `${title} · Grund` : "Grund";
  }, [title]);
  useShortcuts([
    { key: "?", says: "This list of keys", act: () => setKeysOpen(true) },
    { key: "d", says: "Day or night", act: () => setTheme(otherTheme) },
    { key: "h", says: "To all problems", act: () => navigate("/") },
    { key: "k", says: "To all data sets", act: () => navigate("/data") },
  ]);
  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#main" className="sr-only focus:not-sr-only focus:p-2">
        Skip to the content
      </a>
      <header className="screen-only sticky top-0 z-25 flex min-h-[3.1rem] items-center gap-x-4 border-base-300 border-b bg-base-100 px-[1.5rem] max-sm:gap-x-1.5 max-sm:px-2">
        <Link to="/" className="font-semibold font-serif text-[1.45rem] text-primary leading-none max-sm:text-[1.3rem]">
          Grund
        </Link>
        <nav aria-label="Sections" className="flex gap-3 max-sm:gap-1.5 max-sm:text-[0.9rem]">
          {sections
            .filter((section) => section.to !== "/classes" || (!me.alone && me.person))
            .map((section) => (
              <NavLink
                key={section.to}
                to={section.to}
                className={`py-2 ${tools ? "max-sm:hidden" : ""} ${inSection(section.to, pathname) ? "font-semibold" : "text-muted hover:text-ink"} `}
              >
                {section.title}
              </NavLink>
            ))}
        </nav>
        {title && !isSection(title) && (
          <p
            className="min-w-0 flex-1 truncate border-base-300 border-l pl-4 max-sm:invisible max-sm:border-0 max-sm:p-0"
            aria-current="page"
          >
            {title}
          </p>
        )}
        {(!title || isSection(title)) && <span className="flex-1" />}
        {tools}
        <Person />
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
      <Moment />
      {me.person?.role === "guest" && pathname === "/" && (
        <p className="screen-only flex flex-wrap gap-x-4 border-base-300 border-b bg-base-200 px-[1.5rem] py-1.5 text-[0.92rem] max-sm:px-3">
          <span className="text-muted">What you make lives in this browser alone.</span>
          <Link to="/keep" className="act">
            Keep it under a name
          </Link>
        </p>
      )}
      <main id="main" className="flex flex-1 flex-col">
        {children}
      </main>
      {keysOpen && <KeysDialog onClose={() => setKeysOpen(false)} />}
    </div>
  );
}
