/** A plan's saves and decisions that still have to reach the server, in order, kept until they are acknowledged. */
import { newId } from "../api/client";
import type { Document } from "../api/types";
import { opened } from "./opened";
import type { KeptPlan, WaitingSave } from "./store";

export type Kept = Pick<KeptPlan, "base" | "waiting" | "draft">;

/** A tab that has not shown itself for this long is gone, and what it kept is taken over. */
const GONE_MS = 8000;
export const SHOW_MS = 3000;

/** This tab's own name: each tab keeps its own work, and finds it again after a reload. */
function tab(): string {
  const known = sessionStorage.getItem("outrigger.tab") ?? newId();
  sessionStorage.setItem("outrigger.tab", known);
  return known;
}

const key = (plan: string) => `${plan}.${tab()}`;

/** What this tab kept of the plan, or else what a tab that is gone left behind. */
export async function readKept(plan: string): Promise<Kept | null> {
  const store = await opened();
  return store.transaction("rw", store.plans, async () => {
    const own = await store.plans.get(key(plan));
    if (own) return own;
    const left = await store.plans
      .where({ plan })
      .filter((one) => Date.now() - one.seen > GONE_MS)
      .first();
    if (!left) return null;
    await store.plans.delete(left.key);
    await store.plans.put({ ...left, key: key(plan), seen: Date.now() });
    return left;
  });
}

export async function writeKept(plan: string, kept: Kept): Promise<void> {
  const store = await opened();
  if (kept.waiting.length || kept.draft) await store.plans.put({ ...kept, key: key(plan), plan, seen: Date.now() });
  else await store.plans.delete(key(plan));
}

/** The queue with this document as its last save: a save not followed by a log entry and not under way is replaced. */
export function withSave(waiting: WaitingSave[], document: Document, underWay: string | null): WaitingSave[] {
  const last = waiting.at(-1);
  const kept = last?.type === "save" && last.id !== underWay ? waiting.slice(0, -1) : waiting;
  return [...kept, { type: "save", id: newId(), document }];
}
