/** One line unfolded on the ground: a lane for each strand, a bend where the rope turns back. */
import { describe, expect, it } from "vitest";
import { layOut } from "@/drawing/benchLayout";
import type { StateReport } from "@/api/types";

type Ends = [rope: string, start: string, end: string];

function state(kinds: Record<string, string>, strands: Ends[], turns: string[]): StateReport {
  return {
    nodes: Object.entries(kinds).map(([id, kind]) => ({ id, kind, on: null })),
    strands: strands.map(([rope, start, end]) => ({ rope, start, end, line: "main", slack: false })),
    crossings: turns.map((at) => ({ at, line: "main" })),
  } as unknown as StateReport;
}

describe("the bench", () => {
  it("has two lanes for a rope from the anchor round a block at the load and back, over the lip each way", () => {
    const kinds = { tied: "anchor", lip: "edge", block: "block", team: "hands" };
    const rope: Ends[] = [
      ["main", "tied", "lip"],
      ["main", "lip", "block"],
      ["main", "block", "lip"],
      ["main", "lip", "team"],
    ];
    const laid = layOut(state(kinds, rope, ["lip", "block", "lip"]), "main");
    expect(laid.lanes).toBe(2);
    expect(laid.runs.map((run) => [run.from, run.to, run.edges.length])).toEqual([
      ["tied", "block", 1],
      ["block", "team", 1],
    ]);
    expect(laid.bends).toMatchObject([{ node: "block", lanes: [0, 1] }]);
  });

  it("goes on in the same lane where one rope ends at a grab on another", () => {
    const kinds = { load: "load", grab: "grab", team: "hands" };
    const ropes: Ends[] = [
      ["main", "load", "grab"],
      ["tail", "grab", "team"],
    ];
    expect(layOut(state(kinds, ropes, []), "main")).toMatchObject({ lanes: 1, bends: [] });
  });

  it("leaves out other lines, and cord", () => {
    const given = state(
      { a: "anchor", b: "load" },
      [
        ["main", "a", "b"],
        ["hitch cord", "a", "b"],
      ],
      [],
    );
    expect(layOut(given, "main").runs.length).toBe(1);
    expect(layOut(given, "belay").lanes).toBe(0);
  });
});
