/** A plan begun from its scene: the ground that a few numbers make, what is still missing, and what stays open. */
import { describe, expect, it } from "vitest";
import { begun, missing, NOTHING, SCENES, sceneOf, type Given } from "@/stages/plans/scenes";

const usual = (scene: (typeof SCENES)[number]): Given => ({
  ...NOTHING,
  scene: scene.id,
  title: "Practice",
  numbers: Object.fromEntries(scene.asks.map((one) => [one.id, one.usual[2]!])),
  surface: scene.surfaces[0] ?? null,
  contact: scene.contacts[0]!,
  casualty: 80,
  kind: scene.kinds[0]!,
  haulers: 4,
});

describe("a plan begun from its scene", () => {
  it("asks nothing that its scene does not need, and names what is missing", () => {
    expect(missing(NOTHING)).toEqual(["scene"]);
    for (const scene of SCENES) {
      const given = usual(scene);
      expect(missing(given)).toEqual(scene.id === "crossing" ? ["rope", "ropeLength"] : []);
      expect(missing({ ...given, numbers: {} })).toEqual(expect.arrayContaining(scene.asks.map((one) => one.id)));
      // Half a rope is none.
      expect(missing({ ...given, rope: "low-stretch-11", ropeLength: null })).toContain("ropeLength");
    }
  });

  it("goes out and down as the numbers say, to the metre", () => {
    const cliff = sceneOf("cliff", { edge: 8, drop: 20 })!;
    expect(cliff.load).toEqual({ x_m: 8, z_m: -21 });
    const slope = sceneOf("slope", { edge: 2, angle: 30, length: 40 })!;
    expect(slope.load.z_m).toBeCloseTo(-21, 6);
    expect(slope.load.x_m - 2).toBeCloseTo(40 * Math.cos(Math.PI / 6), 2);
    const crossing = sceneOf("crossing", { width: 20, higher: -2, deep: 8 })!;
    expect(crossing.anchors[1]).toEqual({ x_m: 20, z_m: -2 });
    expect(Math.min(...crossing.profile.map((one) => one.z_m))).toBe(-8);
  });

  it("never folds the ground back, whatever is typed", () => {
    let luck = 11;
    const drawn = (least: number, most: number) => {
      luck = (luck * 16807) % 2147483647;
      return least + ((most - least) * luck) / 2147483647;
    };
    for (let turn = 0; turn < 500; turn++) {
      const scene = SCENES[turn % SCENES.length]!;
      const numbers = Object.fromEntries(scene.asks.map((one) => [one.id, drawn(one.least, one.most)]));
      const { profile, load } = sceneOf(scene.id, numbers)!;
      profile.slice(1).forEach((point, index) => expect(point.x_m).toBeGreaterThanOrEqual(profile[index]!.x_m));
      expect(Object.values(load).every(Number.isFinite)).toBe(true);
    }
  });

  it("leaves open what nobody said: no rope, no line, no rating, nobody named", () => {
    for (const scene of SCENES.filter((one) => one.id !== "crossing")) {
      const plan = begun(usual(scene), "Kind");
      expect([plan.ropes, plan.lines, plan.tension_lines, plan.team.people]).toEqual([[], [], [], []]);
      expect(plan.features.every((one) => one.rating_n === null && !Object.keys(one.answers ?? {}).length)).toBe(true);
    }
    const across = begun({ ...usual(SCENES[3]!), rope: "low-stretch-11", ropeLength: 60 }, "Living tree");
    expect(across.lines).toEqual([]);
    expect(across.tension_lines?.map((one) => [one.anchor, one.far])).toEqual([["main", "far"]]);
  });
});
