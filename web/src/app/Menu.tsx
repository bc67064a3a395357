import { type KeyboardEvent, type ReactNode, useId, useRef } from "react";

/** MenuItem is one of the things that a menu offers. */
export interface MenuItem {
  words: string;
  act: () => void;
  /** Tells it from another of the same words. */
  name?: string;
  /** Whether it is the one that holds now, where only one of several does. */
  chosen?: boolean;
}

interface Props {
  label: string;
  className: string;
  items: MenuItem[];
  /** What the button shows. */
  children: ReactNode;
}

/** Menu is a button that offers things to do; the arrows go along them, Escape leaves. */
export function Menu({ label, className, items, children }: Props) {
  const button = useRef<HTMLButtonElement>(null);
  const menu = useRef<HTMLDivElement>(null);
  const id = useId();
  const keys = (event: KeyboardEvent) => {
    if (event.key === "Escape") {
      event.stopPropagation(); // it closes the menu alone
      menu.current?.hidePopover();
      button.current?.focus();
    }
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const buttons = [...(menu.current?.querySelectorAll("button") ?? [])];
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
    buttons[(at + by + buttons.length) % buttons.length]?.focus();
  };
  return (
    <>
      <button
        ref={button}
        type="button"
        className={className}
        aria-label={label}
        title={label}
        popoverTarget={id}
        onKeyDown={(event) => {
          if (event.key !== "ArrowDown") return;
          event.preventDefault();
          menu.current?.showPopover();
        }}
      >
        {children}
      </button>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset is for what is filled in */}
      <div
        ref={menu}
        id={id}
        popover="auto"
        role="group"
        aria-label={label}
        className="m-0 w-max max-w-80 rounded-box border border-base-300 bg-base-100 p-1.5 text-ink shadow-lg"
        onKeyDown={keys}
        onBeforeToggle={(event) => {
          if (event.newState !== "open" || !menu.current || !button.current) return;
          place(menu.current, button.current.getBoundingClientRect());
        }}
        onToggle={(event) => {
          if (event.newState === "open") menu.current?.querySelector("button")?.focus();
        }}
      >
        {items.map((item) => (
          <button
            key={item.name ?? item.words}
            type="button"
            aria-pressed={item.chosen}
            className={`btn btn-ghost btn-sm w-full justify-start whitespace-nowrap ${item.chosen ? "font-semibold text-primary" : "font-normal"}`}
            onClick={() => {
              item.act();
              menu.current?.hidePopover();
              button.current?.focus();
            }}
          >
            <span className="truncate">{item.words}</span>
          </button>
        ))}
      </div>
    </>
  );
}

/** The room that a menu needs: it has no size yet when its place is set, so that it is never seen elsewhere. */
const room = { width: 320, height: 190 };

/** place puts a menu under its button, or over it where there is no room, and within the window. */
function place(menu: HTMLElement, at: DOMRect) {
  const under = at.bottom + room.height < innerHeight;
  const leftwards = at.right > room.width;
  menu.style.inset = "auto";
  menu.style[under ? "top" : "bottom"] = `${under ? at.bottom + 4 : innerHeight - at.top + 4}px`;
  menu.style[leftwards ? "right" : "left"] = `${leftwards ? innerWidth - at.right : Math.max(4, at.left)}px`;
}
