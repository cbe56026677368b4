/** The field that somebody is led to: drawn into view, and under the fingers. */
import { createContext, useContext, useEffect, useRef, type RefObject } from "react";

/** What is led to now, by its id among the next open things. */
export const LedContext = createContext<string | null>(null);

export function useLed(id: string | undefined): RefObject<HTMLInputElement | null> {
  const now = useContext(LedContext);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!id || now !== id) return;
    field.current?.scrollIntoView({ block: "center" });
    field.current?.focus();
  }, [id, now]);
  return field;
}
