/** Undone to the first byte, done again to the last. */
import { describe, expect, it } from "vitest";
import { back, did, NO_HISTORY, on, TOGETHER_MS, type History } from "@/plan/history";

describe("what was done to a plan", () => {
  it("is undone to the first byte and done again to the last, 200 edits at random", () => {
    let luck = 3;
    const drawn = (most: number) => (luck = (luck * 16807) % 2147483647) % most;
    let now = JSON.stringify({ load: 80, ropes: [60], at: 0 });
    const [first, steps] = [now, [now]];
    let history: History<string> = NO_HISTORY;
    for (let turn = 0; turn < 200; turn++) {
      const plan = JSON.parse(now) as { load: number; ropes: number[]; at: number };
      const what = drawn(3);
      if (what === 0) plan.load = drawn(300);
      else if (what === 1) plan.ropes = [...plan.ropes, drawn(200)].slice(-6);
      else plan.at = drawn(1000) / 7;
      history = did(history, now, turn * 2 * TOGETHER_MS);
      steps.push((now = JSON.stringify(plan)));
    }
    const last = now;
    for (const wanted of steps.slice(0, -1).reverse()) {
      [history, now] = back(history, now)!;
      expect(now).toBe(wanted);
    }
    expect(now).toBe(first);
    expect(back(history, now)).toBeNull();
    for (const wanted of steps.slice(1)) {
      [history, now] = on(history, now)!;
      expect(now).toBe(wanted);
    }
    expect(now).toBe(last);
    expect(on(history, now)).toBeNull();
  });

  it("takes a movement of the finger as one step, and forgets what was undone once something else is done", () => {
    let history: History<number> = NO_HISTORY;
    for (let step = 0; step < 30; step++) history = did(history, step, 10_000 + step * 16);
    expect(history.past).toEqual([0]);
    history = did(history, 30, 20_000);
    const [after, now] = back(history, 31)!;
    expect(now).toBe(30);
    expect(did(after, now, 30_000).future).toEqual([]);
    // Right after an undo an edit is a step of its own.
    expect(did(after, now, 20_001).past).toEqual([0, 30]);
  });
});
