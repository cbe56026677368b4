/** What a tab kept of a plan, read back: whatever its page has settled is not settled a second time. */
import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it, vi } from "vitest";

const held = new Map<string, string>();
vi.stubGlobal("window", globalThis);
vi.stubGlobal("location", { origin: "http://team" });
vi.stubGlobal("sessionStorage", {
  getItem: (key: string) => held.get(key) ?? null,
  setItem: (key: string, value: string) => held.set(key, value),
});

const asked: string[] = [];
vi.stubGlobal("fetch", async (request: Request) => {
  asked.push(((await request.json()) as { id: string }).id);
  return new Response(JSON.stringify({ number: 4 }), { headers: { "Content-Type": "application/json" } });
});

const { readKept, writeKept, unsentPlans, sendLeftBehind, showing } = await import("@/device/plans");
const { store } = await import("@/device/store");
const kept = { base: 3, waiting: [], draft: { title: "Practice" } as never, by: "ash" };

beforeEach(async () => {
  await store.plans.clear();
  held.clear();
});

describe("what a device kept of a plan", () => {
  it("opens nothing where nothing was ever kept, and says so", async () => {
    await store.delete();
    expect(await readKept("p", "ash")).toBeNull();
    await writeKept("p", { ...kept, draft: null });
    expect((await indexedDB.databases()).map((one) => one.name)).toEqual([]);
    await store.open();
  });

  it("comes back to the person who made it, in the same tab", async () => {
    await writeKept("p", kept);
    expect(await readKept("p", "ash")).toEqual(kept);
    expect(await readKept("p", "rowan")).toBeNull();
  });

  it("is taken over from a tab that is gone, and from none that is there", async () => {
    await store.plans.put({ ...kept, key: "p.there", plan: "p", seen: Date.now() });
    expect(await readKept("p", "ash")).toBeNull();
    await store.plans.put({ ...kept, key: "p.gone", plan: "p", seen: Date.now() - 60_000 });
    expect(await readKept("p", "ash")).toEqual(kept);
    expect((await store.plans.toArray()).map((one) => one.key)).not.toContain("p.gone");
  });

  it("is no longer stuck once its page has read it", async () => {
    await store.plans.put({ ...kept, key: "p.gone", plan: "p", seen: 0, stuck: "stale" });
    expect((await unsentPlans("ash")).length).toBe(1);
    const found = await readKept("p", "ash");
    expect(found).toEqual(kept);
    await writeKept("p", found!);
    expect(await unsentPlans("ash")).toEqual([]);
  });
  it("goes out after what an open page of the plan has to send, even where that page is slow to show itself", async () => {
    const save = (id: string) => [{ type: "save" as const, id, document: kept.draft }];
    await store.plans.put({ ...kept, waiting: save("left"), key: "p.gone", plan: "p", seen: 0 });
    await store.plans.put({ ...kept, waiting: save("open"), key: "p.here", plan: "p", seen: 0 });
    held.set("outrigger.tab", "here");
    const hide = showing("p");
    await sendLeftBehind("ash");
    expect(asked).toEqual([]);
    await store.plans.put({ ...kept, waiting: [], key: "p.here", plan: "p", seen: 0 });
    await sendLeftBehind("ash");
    expect(asked).toEqual(["left"]);
    hide();
  });
});
