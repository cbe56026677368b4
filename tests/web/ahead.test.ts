/** The run as a device without a connection shows it: what was done here, put on what the server last said. */
import { describe, expect, it } from "vitest";
import { ahead } from "@/device/ahead";
import type { Operation, Procedure, Run } from "@/api/types";
import type { Waiting } from "@/device/store";

const operation = { steps: ["secure/1", "secure/2", "lower:1/1"].map((key) => ({ key })) } as unknown as Operation;
const going = { at: "secure/1", status: "going", stopped: null, contingency: null } as unknown as Run;
const procedures = [
  {
    id: "jam",
    name: "The load jams",
    steps: [
      { who: ["edge"], do: "Look" },
      { who: [], do: "Free it" },
    ],
  },
] as unknown as Procedure[];

function did(act: string, at = "", more: object = {}): Waiting {
  const item = { type: "act", act: { act, at, text: "", data: {}, ...more } };
  return { id: act, plan: "p", by: "ash", made: "2026-01-01T00:00:00Z", offline: true, item } as unknown as Waiting;
}

const after = (...waiting: Waiting[]) => ahead(going, operation, waiting, procedures);

describe("a run without a connection", () => {
  it("goes on step by step, back, and no further than its ends", () => {
    expect(after(did("done", "secure/1"), did("done", "secure/2")).at).toBe("lower:1/1");
    expect(after(did("done", "secure/1"), did("back", "secure/2")).at).toBe("secure/1");
    expect(after(did("back", "secure/1")).at).toBe("secure/1");
  });

  it("takes no step twice: what was said of another step moves nothing", () => {
    expect(after(did("done", "secure/1"), did("done", "secure/1")).at).toBe("secure/2");
  });

  it("has what is done beside out of the way, and is not come to again", () => {
    const run = { ...going, beside: ["secure/2"], done_ahead: [] } as unknown as Run;
    const now = ahead(run, operation, [did("done", "secure/2")], procedures);
    expect(now).toMatchObject({ at: "secure/1", beside: [], done_ahead: ["secure/2"] });
    expect(ahead(run, operation, [did("done", "secure/2"), did("done", "secure/1")], procedures).at).toBe("lower:1/1");
  });

  it("stands still once stopped, by the first who called it, until somebody says go", () => {
    const stopped = after(did("stop", "", { text: "rock" }), did("stop"));
    expect(stopped).toMatchObject({ status: "stopped", stopped: { by: "ash", why: "rock" } });
    expect(after(did("stop"), did("go"))).toMatchObject({ status: "going", stopped: null });
  });

  it("enters a contingency on the step it is at, goes through it and comes back to that step", () => {
    const enter = did("contingency", "secure/1", { data: { id: "jam" } });
    expect(after(enter).contingency).toMatchObject({ id: "jam", place: 0 });
    const over = after(enter, did("done", "jam/1"), did("done", "jam/2"));
    expect(over).toMatchObject({ at: "secure/1", contingency: null });
    expect(after(did("contingency", "", { data: { id: "nobody knows" } })).contingency).toBeNull();
  });

  it("is not moved by entries and photographs", () => {
    const entry = { ...did("done"), item: { type: "entry", entry: {} } } as unknown as Waiting;
    expect(after(entry)).toEqual(going);
  });
});
