/** What waits of a plan, in order: saves and the decisions made between them. */
import type { Document, Revision } from "../api/types";
import { newId } from "./newId";
import type { KeptPlan, WaitingSave } from "./store";

export type Kept = Pick<KeptPlan, "base" | "waiting" | "draft" | "by">;

/** The queue with this document as its last save: a save not followed by a log entry and not under way is replaced. */
export function withSave(waiting: WaitingSave[], document: Document, underWay: string | null): WaitingSave[] {
  const last = waiting.at(-1);
  const kept = last?.type === "save" && last.id !== underWay ? waiting.slice(0, -1) : waiting;
  return [...kept, { type: "save", id: newId(), document }];
}

/** What is left to do after one was sent. */
export function without(kept: Kept, item: WaitingSave, saved?: Revision): Kept {
  const last = kept.waiting.filter((one) => one.type === "save").at(-1);
  const waiting = kept.waiting.filter((one) => one.id !== item.id);
  if (!saved) return { ...kept, waiting };
  return { ...kept, waiting, base: saved.number, draft: last?.id === item.id ? null : kept.draft };
}
