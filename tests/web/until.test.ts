/** When the load will be up: from the step that is now, put off by one that takes longer than it was to. */
import { describe, expect, it } from "vitest";
import { untilOf } from "@/stages/run/until";

const left = (expected: number) => ({ low: expected - 2, expected, high: expected + 8 });
const operation = {
  steps: [
    { key: "a", begins_min: 0, left_min: left(30) },
    { key: "b", begins_min: 10, left_min: left(20) },
    { key: "c", begins_min: 30, left_min: null },
  ],
} as never;
const at = (minutes: number) => new Date(Date.UTC(2026, 0, 1, 12) + minutes * 60_000).toISOString();
const run = (key: string, since: number) => ({ at: key, since: at(since), begun_at: at(0) }) as never;

describe("when the load will be up", () => {
  it("is what is left from when the step was begun, and how late that was", () => {
    expect(untilOf(operation, run("b", 14), Date.parse(at(15)))).toEqual({
      low: at(32),
      expected: at(34),
      high: at(42),
      late: 4,
    });
  });

  it("is put off by a step that takes longer than it was to", () => {
    expect(untilOf(operation, run("a", 0), Date.parse(at(16)))).toMatchObject({ expected: at(36), late: 6 });
    expect(untilOf(operation, run("a", 0), Date.parse(at(9)))).toMatchObject({ expected: at(30), late: 0 });
  });

  it("stands still while the set-up goes as planned, whoever is at what, and is put off by what that is late", () => {
    const setUp = {
      steps: [
        { key: "set-up/1", section: "set-up", begins_min: 0, left_min: left(60) },
        { key: "set-up/2", section: "set-up", begins_min: 0, left_min: left(60) },
        { key: "check/1", section: "check", begins_min: 20, left_min: left(40) },
      ],
    } as never;
    for (const [key, since, now] of [
      ["set-up/1", 0, 1],
      ["set-up/1", 0, 14],
      ["set-up/2", 12, 19],
    ] as const)
      expect(untilOf(setUp, run(key, since), Date.parse(at(now)))).toMatchObject({ expected: at(60), late: 0 });
    expect(untilOf(setUp, run("set-up/2", 12), Date.parse(at(26)))).toMatchObject({ expected: at(66), late: 6 });
  });

  it("is nothing to be said of once it is up, and of a step that is none of the operation's", () => {
    expect(untilOf(operation, run("c", 31), Date.parse(at(32)))).toBeNull();
    expect(untilOf(operation, run("heavy/1", 5), Date.parse(at(6)))).toBeNull();
  });
});
