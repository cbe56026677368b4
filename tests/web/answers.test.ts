/** What the server answered is kept once the first view stands, and nothing of it for whoever comes after somebody has left. */
import "fake-indexeddb/auto";
import { describe, expect, it, vi } from "vitest";

vi.stubGlobal("window", globalThis);
vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
vi.stubGlobal("fetch", async (request: Request) => Response.json({ of: new URL(request.url).pathname }));

const { keptFetch, forget } = await import("@/device/answers");
const { rested } = await import("@/device/opened");
const { store } = await import("@/device/store");

const ask = (path: string) => keptFetch(new Request(`http://team${path}`));
const keys = async () => (await store.answers.toArray()).map((one) => one.key).sort();

describe("what is kept of the server's answers", () => {
  it("leaves out what was asked before somebody left, wherever it was on its way to be kept", async () => {
    await ask("/api/plans");
    await ask("/api/plans/1");
    await forget();
    await ask("/api/plans/2");
    rested();
    await vi.waitFor(async () => expect(await keys()).toEqual(["GET /api/plans/2"]), { timeout: 15_000 });
    const under = ask("/api/plans/3");
    await forget();
    await under;
    await ask("/api/plans/4");
    await vi.waitFor(async () => expect(await keys()).toEqual(["GET /api/plans/4"]), { timeout: 15_000 });
  });
});
