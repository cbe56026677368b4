/** Who says what stands in the log. */
import type { Entry } from "../api/types";

/** A cell's alarms are its own; what happens in a table-top is called out by nobody who is there. */
export function authorOf(entry: Entry, me?: string): string {
  if (entry.kind === "alarm") return "load cell";
  if ("happens" in (entry.data ?? {})) return "called out";
  return entry.author === me ? "you" : entry.author;
}
