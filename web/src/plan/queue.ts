/** What still has to reach the server, in order, kept on this device until it is acknowledged. */
import { newId } from "../api/client";
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

type Stored = Kept & { seen: number };

const PREFIX = "outrigger.plan.";
/** A tab that has not shown itself for this long is gone, and what it kept is taken over. */
const GONE_MS = 8000;
export const RETRY_MS = 2000;
export const SHOW_MS = 3000;

/** This tab's own name: each tab keeps its own work, and finds it again after a reload. */
function tab(): string {
  const known = sessionStorage.getItem("outrigger.tab") ?? newId();
  sessionStorage.setItem("outrigger.tab", known);
  return known;
}

const key = (plan: string) => `${PREFIX}${plan}.${tab()}`;

/** What this tab kept of the plan, or else what a tab that is gone left behind. */
export function readKept(plan: string): Kept | null {
  const own = localStorage.getItem(key(plan));
  if (own) return JSON.parse(own) as Kept;
  for (const other of Object.keys(localStorage).filter((name) => name.startsWith(`${PREFIX}${plan}.`))) {
    const { seen, ...kept } = JSON.parse(localStorage.getItem(other)!) as Stored;
    if (Date.now() - seen > GONE_MS) {
      writeKept(plan, kept);
      localStorage.removeItem(other);
      return kept;
    }
  }
  return null;
}

export function writeKept(plan: string, kept: Kept): void {
  if (kept.waiting.length || kept.draft) localStorage.setItem(key(plan), JSON.stringify({ ...kept, seen: Date.now() }));
  else localStorage.removeItem(key(plan));
}

/** The queue with this document as its last save: a save not followed by a log entry and not under way is replaced. */
export function withSave(waiting: Waiting[], document: Document, underWay: string | null): Waiting[] {
  const last = waiting.at(-1);
  const kept = last?.type === "save" && last.id !== underWay ? waiting.slice(0, -1) : waiting;
  return [...kept, { type: "save", id: newId(), document }];
}
