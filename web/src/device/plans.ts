/** A plan's saves and decisions that still have to reach the server, in order, kept until they are acknowledged. */
import { answered, api, Refused } from "./client";
import { newId } from "./newId";
import type { Revision, Stale } from "../api/types";
import { without, type Kept } from "./queue";
import { everKept, opened } from "./opened";
import type { KeptPlan, WaitingSave } from "./store";

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
const keptOf = ({ base, waiting, draft, by }: KeptPlan): Kept => ({ base, waiting, draft, by });
/** What this tab shows is not gone, however long a slow device did not get to say so. */
let shown: string | null = null;
const isGone = (one: KeptPlan) => Date.now() - one.seen > GONE_MS && one.key !== shown;
const isBy = (one: KeptPlan, me: string) => (one.by ?? me) === me;

/** This tab's page shows the plan, until it says that it does no more. */
export function showing(plan: string): () => void {
  shown = key(plan);
  return () => (shown = null);
}

/** What this tab kept of the plan for somebody, or else what a tab that is gone left behind. */
export async function readKept(plan: string, me: string): Promise<Kept | null> {
  if (!(await everKept())) return null;
  const store = await opened();
  return store.transaction("rw", store.plans, async () => {
    const own = await store.plans.get(key(plan));
    if (own && isBy(own, me)) return keptOf(own);
    const left = await store.plans
      .where({ plan })
      .filter((one) => isGone(one) && isBy(one, me))
      .first();
    if (!left) return null;
    await store.plans.delete(left.key);
    await store.plans.put({ ...left, key: key(plan), seen: Date.now() });
    return keptOf(left);
  });
}

export async function writeKept(plan: string, kept: Kept): Promise<void> {
  const keeps = kept.waiting.length > 0 || kept.draft !== null;
  if (!keeps && !(await everKept())) return;
  const store = await opened();
  if (keeps) await store.plans.put({ ...kept, key: key(plan), plan, seen: Date.now() });
  else await store.plans.delete(key(plan));
}

/** One sent under the name of whoever did it: the revision that it made, that somebody saved in between, or nothing for a decision. */
export async function sendOne(
  plan: string,
  kept: Kept,
  item: WaitingSave,
): Promise<{ saved?: Revision; stale?: Stale }> {
  const params = { path: { plan_id: plan } };
  const headers = kept.by ? { "X-Signed-In-As": encodeURIComponent(kept.by) } : {};
  if (item.type === "log") {
    const body = { ...item.entry, id: item.id, revision: kept.base };
    answered(await api.POST("/api/plans/{plan_id}/log", { params, body, headers }));
    return {};
  }
  const body = { base: kept.base, id: item.id, document: item.document };
  const result = await api.PUT("/api/plans/{plan_id}", { params, body, headers });
  if (result.response.status === 409) return { stale: result.error as unknown as Stale };
  return { saved: answered(result) };
}

/** Somebody's plans that still have something to send, or that need their page. */
export async function unsentPlans(me: string): Promise<KeptPlan[]> {
  const store = await opened();
  return store.plans.filter((one) => one.by === me && (one.waiting.length > 0 || Boolean(one.stuck))).toArray();
}

/** Sends what waits of plans that no page shows, in order; where a page has something to send itself, after that. A connection that is not there stays the TypeError that fetch throws. */
export async function sendLeftBehind(me: string): Promise<void> {
  const rows = await unsentPlans(me);
  const awaited = new Set(rows.flatMap((one) => (isGone(one) ? [] : [one.plan])));
  for (const row of rows) {
    let now: KeptPlan | null = row.stuck || awaited.has(row.plan) ? null : row;
    while (now?.waiting[0]) now = await step(now, now.waiting[0]);
  }
}

async function step(row: KeptPlan, item: WaitingSave): Promise<KeptPlan | null> {
  try {
    const { saved, stale } = await sendOne(row.plan, row, item);
    return await settle(row, stale ? { ...row, stuck: "stale" } : { ...row, ...without(row, item, saved) });
  } catch (error) {
    // Refused for good: the draft stays, and its page says what is wrong with it.
    if (error instanceof Refused && [413, 422].includes(error.status))
      return settle(row, { ...row, ...without(row, item), stuck: "refused" });
    if (error instanceof Refused && [401, 403, 404].includes(error.status)) return null;
    throw error;
  }
}

/** Puts what is left in its place, unless a page has taken it over meanwhile; null where there is nothing to go on with. */
async function settle(was: KeptPlan, now: KeptPlan): Promise<KeptPlan | null> {
  const store = await opened();
  return store.transaction("rw", store.plans, async () => {
    const there = await store.plans.get(was.key);
    if (!there || there.seen !== was.seen) return null;
    if (now.waiting.length || now.draft) await store.plans.put(now);
    else await store.plans.delete(now.key);
    return now.stuck ? null : now;
  });
}
