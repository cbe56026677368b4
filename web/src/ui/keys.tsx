/** Every action has a key. Letters count only where nothing is being typed. */
import { useEffect, useRef } from "react";

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
      if (typing || event.altKey) return;
      // With Control, or the like of it, a letter is another key.
      const held = event.ctrlKey || event.metaKey;
      const action =
        latest.current[held ? `Control ${event.shiftKey ? "Shift " : ""}${event.key.toLowerCase()}` : event.key];
      if (action) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, []);
}
