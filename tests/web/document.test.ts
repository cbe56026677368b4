/** A plan's document as lines and ropes come and go. */
import { describe, expect, it } from "vitest";
import type { Document } from "@/api/types";
import { withoutLine } from "@/plan/document";

function plan(more: object): Document {
  return {
    ropes: ["red", "blue", "white"].map((id) => ({ id, kind: "low-stretch-11", length_m: 60 })),
    lines: [
      { id: "main", rope: "red" },
      { id: "belay", rope: "blue" },
    ],
    tension_lines: [],
    anchors: [],
    features: [],
    ...more,
  } as unknown as Document;
}

const left = (document: Document) => withoutLine(document, "belay").ropes!.map((one) => one.id);
const anchor = (made: object) => ({ anchors: [{ alternatives: [{ legs: [], ...made }] }] });

describe("a line taken out", () => {
  it("takes its own rope with it, and no other, not even one that no line is on", () => {
    expect(left(plan({}))).toEqual(["red", "white"]);
    expect(left(plan({ tension_lines: [{ id: "high", rope: "white" }] }))).toEqual(["red", "white"]);
  });

  it("leaves the rope that something else is of", () => {
    const main = { id: "main", rope: "red", haul: { strands_of: "blue" } };
    expect(left(plan({ lines: [main, { id: "belay", rope: "blue" }] }))).toContain("blue");
    expect(left(plan({ tension_lines: [{ id: "high", rope: "blue" }] }))).toContain("blue");
    expect(left(plan(anchor({ legs: [{ feature: "fir", rope: "blue" }] })))).toContain("blue");
    expect(left(plan(anchor({ ties: [{ feature: "fir", rope: "blue" }] })))).toContain("blue");
    expect(left(plan(anchor({ set_down: { stages: [{ rope: "blue" }] } })))).toContain("blue");
  });
});
