/** The operation put in order by its leader: what the plan keeps of it. */
import { describe, expect, it } from "vitest";
import { added, fitting, given, moved, stretches, withInstead, without, withoutInstead } from "@/stages/run/arranged";

const section = (id: string, procedure: string, place: number, more = {}) => ({
  id,
  procedure,
  place,
  instead: [],
  may_follow: [],
  ...more,
});
const operation = {
  may_begin: [{ id: "lower", name: "Lower" }],
  sections: [
    section("lower", "lower", 0),
    section("knot-pass-lowering:1", "knot-pass-lowering", 0),
    section("lower-on:1", "lower-on", 0, { may_follow: [{ id: "secure", name: "Secure" }] }),
    section("raise:1", "raise", 1),
    section("raise:2", "raise", 1, { instead: [{ id: "raise:2/or:1", when: "it sticks", procedure: "sling-haul" }] }),
  ],
} as never;

describe("the operation put in order", () => {
  it("keeps a lower with its joins, and every haul of a raise, as one section", () => {
    expect(stretches(operation).map((rows) => rows.map((one) => one.id))).toEqual([
      ["lower", "knot-pass-lowering:1", "lower-on:1"],
      ["raise:1", "raise:2"],
    ]);
    expect(given(operation)).toEqual([
      { procedure: "lower", instead: [] },
      { procedure: "raise", instead: [{ when: "it sticks", procedure: "sling-haul" }] },
    ]);
  });

  it("offers at a place what may follow the one before it", () => {
    expect(fitting(operation, 0).map((one) => one.id)).toEqual(["lower"]);
    expect(fitting(operation, 1).map((one) => one.id)).toEqual(["secure"]);
  });

  it("moves, leaves out and puts in without touching what it was given", () => {
    const rows = given(operation);
    const before = JSON.stringify(rows);
    expect(moved(rows, 1, -1).map((one) => one.procedure)).toEqual(["raise", "lower"]);
    expect(moved(moved(rows, 0, 1), 1, -1)).toEqual(rows);
    expect(without(rows, 0).map((one) => one.procedure)).toEqual(["raise"]);
    expect(added(rows, 0, "secure").map((one) => one.procedure)).toEqual(["lower", "secure", "raise"]);
    expect(without(added(rows, -1, "check"), 0)).toEqual(rows);
    const more = withInstead(rows, 0, "the wind gets up", "secure");
    expect(more[0]!.instead).toEqual([{ when: "the wind gets up", procedure: "secure" }]);
    expect(withoutInstead(more, 0, 0)).toEqual(rows);
    expect(JSON.stringify(rows)).toBe(before);
  });
});
