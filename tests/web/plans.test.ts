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

const { readKept, writeKept, unsentPlans } = await import("@/device/plans");
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
});
