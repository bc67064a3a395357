import { activeShortcuts } from "../lib/keys";
import { usePreference } from "../lib/preferences";
import { Dialog } from "./Dialog";

const names: Record<string, string> = {
  ArrowRight: "→",
  ArrowLeft: "←",
  " ": "space",
  "Ctrl+z": "Ctrl Z",
  Escape: "Esc",
};

/** KeysDialog lists the keys that act on the page under it. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const [single, setSingle] = usePreference("singleKeys");
  const shortcuts = activeShortcuts().filter((shortcut) => !shortcut.hidden);
  return (
    <Dialog title="Keys" onClose={onClose}>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-5 gap-y-1.5">
        {shortcuts.map((shortcut) => (
          <div className="contents" key={shortcut.key}>
            <dt>
              <kbd className="kbd kbd-sm font-sans">{names[shortcut.key] ?? shortcut.key}</kbd>
            </dt>
            <dd>{shortcut.says}</dd>
          </div>
        ))}
        <dt>
          <kbd className="kbd kbd-sm font-sans">Tab</kbd>
        </dt>
        <dd>To the next number or button; Enter opens it, Esc closes</dd>
        <dt>
          <kbd className="kbd kbd-sm font-sans">Ctrl click</kbd>
        </dt>
        <dd>On a number: copy all its digits</dd>
      </dl>
      <label className="mt-5 flex items-center gap-2 border-base-300 border-t pt-4">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={single === "on"}
          onChange={(event) => setSingle(event.target.checked ? "on" : "off")}
        />
        Keys of a single letter act
      </label>
    </Dialog>
  );
}
