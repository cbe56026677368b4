/** The one delivery of a device: in order, once, a STOP before everything, and nothing gone that the server neither has nor refused for good. */
import "fake-indexeddb/auto";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

type Said = { status: number; body?: unknown };
interface Sent {
  path: string;
  act?: string;
  name: string | null;
}

let answer: (sent: Sent) => Said | Promise<Said>;
let sent: Sent[];
let end = () => {};

vi.stubGlobal("window", globalThis);
vi.stubGlobal("location", { origin: "http://team" });
vi.stubGlobal("addEventListener", () => {});
vi.stubGlobal("removeEventListener", () => {});
vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
vi.stubGlobal("fetch", async (asked: Request | string, given?: RequestInit) => {
  const request = asked instanceof Request ? asked : new Request(new URL(asked, "http://team"), given);
  const path = new URL(request.url).pathname;
  if (path === "/api/session")
    return Response.json({ username: signedIn, teams: [], csrf_token: "fresh", caution: "" });
  const body = path.endsWith("/photographs") ? {} : ((await request.json()) as { act?: string });
  const one = { path, act: body.act, name: request.headers.get("X-Signed-In-As") };
  sent.push(one);
  const { status, body: told } = await answer(one);
  return Response.json(told ?? {}, { status });
});

const { deliver, onDelivered } = await import("@/device/delivery");
const { store } = await import("@/device/store");
let signedIn = "ash";

const act = (name: string) => ({ type: "act" as const, act: { act: name, at: "", text: "", data: {} } });
const photo = { type: "photo" as const, file: new Blob(["x"]), name: "lip", step: "" };

async function put(item: object, by = "ash"): Promise<void> {
  const id = crypto.randomUUID();
  await store.waiting.add({ id, plan: "p", by, made: new Date().toISOString(), offline: false, item } as never);
}

/** A machine may be busy with other things: it waits for what comes, not for a second. */
const until = (hold: () => void | Promise<void>) => vi.waitFor(hold, { timeout: 15_000 });

const left = () => store.waiting.count();

beforeEach(async () => {
  await store.waiting.clear();
  [sent, signedIn, answer] = [[], "ash", () => ({ status: 200 })];
});
afterEach(() => end());

describe("what was done on a device", () => {
  it("goes out in order, once, and is gone when the server has it", async () => {
    for (const name of ["begin", "done", "go"]) await put(act(name));
    end = deliver("ash", () => {});
    await until(async () => expect(await left()).toBe(0));
    expect(sent.map((one) => one.act)).toEqual(["begin", "done", "go"]);
  });

  it("does not keep a STOP behind a photograph or an act that hangs", async () => {
    answer = (one) => (one.act === "stop" ? { status: 200 } : new Promise(() => {}));
    await put(photo);
    await put(act("done"));
    await put(act("stop"));
    end = deliver("ash", () => {});
    await until(() => expect(sent.map((one) => one.act)).toContain("stop"));
    await until(async () => expect(await left()).toBe(2));
  });

  it("stays where the server is ill, and is said to wait where it may not", async () => {
    answer = () => ({ status: 503 });
    await put(act("done"));
    end = deliver("ash", () => {});
    await until(() => expect(sent.length).toBe(1));
    await until(async () => expect((await store.waiting.toArray())[0]!.offline).toBe(true));
    await new Promise((later) => setTimeout(later, 200));
    expect(sent.length).toBe(1);
    end();
    const heard: string[] = [];
    const deaf = onDelivered((said) => heard.push(...(said.faults ?? []).map((one) => one.problem)));
    answer = () => ({ status: 403, body: { faults: [] } });
    end = deliver("ash", () => {});
    await until(() => expect(heard).toContain("it waits on this device"));
    deaf();
    expect(await left()).toBe(1);
  });

  it.each([409, 422])("is gone when it was refused for good with %d, and that is said", async (status) => {
    const heard: object[] = [];
    const deaf = onDelivered((said) => heard.push(said));
    answer = () => ({ status, body: { faults: [{ path: "at", problem: "no", right: "yes" }], run: { at: "x" } } });
    await put(act("done"));
    end = deliver("ash", () => {});
    await until(async () => expect(await left()).toBe(0));
    deaf();
    expect(heard[0]).toMatchObject(status === 409 ? { moved: { at: "x" } } : { faults: [{ path: "at" }] });
  });

  it("goes out after a new sign-in of the same person, under no other name", async () => {
    answer = () => ({ status: sent.length === 1 ? 401 : 200 });
    await put(act("done"));
    await put(act("stop"), "rowan");
    end = deliver("ash", () => {});
    await until(async () => expect(await left()).toBe(1));
    expect(sent.map((one) => one.name)).toEqual(["ash", "ash"]);
  });

  it("waits where somebody else has signed in", async () => {
    signedIn = "rowan";
    answer = () => ({ status: 401 });
    const out = vi.fn();
    await put(act("done"));
    end = deliver("ash", out);
    await until(() => expect(out).toHaveBeenCalled());
    expect(await left()).toBe(1);
  });
});
