/** Every action has a key; one sheet lists them. Letters count only where nothing is being typed. */
import { useEffect, useRef } from "react";
import { Sheet } from "../ui/Sheet";

export function useKeys(keys: Record<string, () => void>) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing =
        /^(INPUT|TEXTAREA)$/.test(target.tagName) || target.closest("[role=listbox],[role=dialog]") !== null;
      if (event.key === "Escape" && /^(INPUT|TEXTAREA)$/.test(target.tagName)) target.blur();
      // On a button or a link Enter is its own.
      if (event.key === "Enter" && target.closest("button,a")) return;
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      const action = latest.current[event.key];
      if (action) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, []);
}

const LIST: [string, string][] = [
  ["1 2 3 4", "Hold, lower, raise, a line goes; the same key again: the next state of the group"],
  ["d", "Write a decision; Enter records it"],
  ["w", "The whole way, and back; there: Left and Right on the slider"],
  ["b", "What buys most, and back to the load path"],
  ["s, a, l, c, r, g", "Size-up, Anchors, Lines, Check, Run, Log"],
  ["Enter, Backspace, e, x", "On the run: step done, step back, something else happened, STOP"],
  ["Tab", "From part to part of the drawing and the load path"],
  ["Enter or Space", "Open the part: what it is, what it carries, what can be done there"],
  [
    "Arrow keys",
    "Move the load, a ground point, an edge, a feature or the working point; turn the pull; with Shift in long steps",
  ],
  ["Escape", "Leave a field, close a sheet"],
  ["?", "This list"],
];

export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys" onClose={onClose} wide>
      <dl className="text-lg">
        {LIST.map(([key, what]) => (
          <div key={key} className="grid grid-cols-[10rem_1fr] py-1">
            <dt className="font-semibold">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}
