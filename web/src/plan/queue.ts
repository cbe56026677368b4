/** What still has to reach the server, in order, kept on this device until it is acknowledged. */
import type { Document, NewEntry } from "../api/types";

export type Waiting =
  | { type: "save"; id: string; document: Document }
  | { type: "log"; id: string; entry: Omit<NewEntry, "id" | "revision"> };

export interface Kept {
  /** The revision that the first waiting save starts from. */
  base: number;
  waiting: Waiting[];
  /** The document as last edited, if it has not been acknowledged. */
  draft: Document | null;
}

const key = (plan: string) => `outrigger.plan.${plan}`;

export function readKept(plan: string): Kept | null {
  const text = localStorage.getItem(key(plan));
  return text ? (JSON.parse(text) as Kept) : null;
}

export function writeKept(plan: string, kept: Kept): void {
  if (kept.waiting.length || kept.draft) localStorage.setItem(key(plan), JSON.stringify(kept));
  else localStorage.removeItem(key(plan));
}

/** The queue with this document as its last save: a save not followed by a log entry and not under way is replaced. */
export function withSave(waiting: Waiting[], document: Document, underWay: string | null): Waiting[] {
  const last = waiting.at(-1);
  const kept = last?.type === "save" && last.id !== underWay ? waiting.slice(0, -1) : waiting;
  return [...kept, { type: "save", id: crypto.randomUUID(), document }];
}
