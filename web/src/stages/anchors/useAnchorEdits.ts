/** Changes to features and arrangements of the open plan. */
import type { Arrangement, Catalogue, Document, Feature, Leg } from "../../api/types";
import { arrangements, fresh, LEG, round, withAnchor } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";

export function useAnchorEdits(open: OpenPlan) {
  const feature = (id: string, change: Partial<Feature>) =>
    open.edit((old) => ({
      ...old,
      features: old.features.map((one) => (one.id === id ? { ...one, ...change } : one)),
    }));
  const arrangement = (id: string, change: (old: Arrangement) => Arrangement) =>
    open.edit((old) => ({
      ...old,
      anchors: old.anchors.map((anchor) => ({
        ...anchor,
        alternatives: anchor.alternatives.map((one) => (one.id === id ? change(one) : one)),
      })),
    }));
  const leg = (id: string, index: number, change: Partial<Leg>) =>
    arrangement(id, (old) => ({
      ...old,
      legs: old.legs.map((one, at) => (at === index ? { ...one, ...change } : one)),
    }));
  return {
    feature,
    arrangement,
    leg,
    addFeatures: (found: Feature[]) => open.edit((old) => ({ ...old, features: [...old.features, ...found] })),
    newFeatureId: () =>
      fresh(
        "feature-1",
        open.document.features.map((one) => one.id),
      ),
    dropFeature: (id: string) =>
      open.edit((old) => ({ ...old, features: old.features.filter((one) => one.id !== id) })),
    addLeg: (id: string, to: string) =>
      arrangement(id, (old) => ({
        ...old,
        tightened: null,
        legs: old.piece ? ledOn(old.legs, to) : [...old.legs, { ...LEG, feature: to }],
      })),
    dropLeg: (id: string, index: number) =>
      arrangement(id, (old) => {
        const left = old.legs.filter((_, at) => at !== index);
        // What is left of one piece on one feature is passed round it.
        const legs =
          old.piece && left.length === 1 ? left.map((leg) => (atEnd(leg) ? passed(leg, leg.feature) : leg)) : left;
        return { ...old, tightened: null, legs };
      }),
    scheme: (id: string, scheme: Catalogue["schemes"][string]) =>
      open.edit((old) => {
        const now = arrangements(old).find((one) => one.arrangement.id === id)?.arrangement;
        if (!now) return old;
        const stood = scheme.made === "stands" ? onFeet(old, now) : { document: old, legs: offFeet(old, now) };
        return {
          ...stood.document,
          anchors: stood.document.anchors.map((anchor) => ({
            ...anchor,
            alternatives: anchor.alternatives.map((one) =>
              one.id === id
                ? {
                    ...one,
                    scheme: scheme.id,
                    legs: stood.legs,
                    span:
                      scheme.made === "line"
                        ? (one.span ?? {
                            ropes: 1,
                            carriage: "gathered" as const,
                            ends: "gathered" as const,
                            slips: null,
                          })
                        : null,
                    prop: scheme.propped ? (one.prop ?? null) : null,
                    ...(one.piece ? { piece: null, legs: stood.legs.map(byItself) } : {}),
                    tightened: null,
                    ...(scheme.made === "point" ? {} : { set_down: null }),
                  }
                : one,
            ),
          })),
        };
      }),
    /** What an anchor is judged for before a line pulls on it; null: the load held on it. */
    planning: (anchor: string, newtons: number | null) =>
      open.edit((old) =>
        withAnchor(old, anchor, (one) => ({
          ...one,
          planning_n: newtons === null ? null : { low: newtons, expected: newtons, high: newtons },
        })),
      ),
    /** Another arrangement of an anchor, on the given features, or a copy of one; its id. */
    add: (anchor: string, name: string, from: Arrangement | string[]) => {
      const id = fresh(
        "arrangement-1",
        arrangements(open.document).map((one) => one.arrangement.id),
      );
      const made: Arrangement = Array.isArray(from)
        ? {
            id,
            name,
            scheme: from.length === 1 ? "single" : "fixed",
            point: { x_m: 0, y_m: 0, z_m: 0 },
            legs: from.map((to) => ({ ...LEG, feature: to })),
            connector: "steel",
            swing_rad: Math.PI / 12,
            slider: "carabiner",
            ties: [],
            locked: false,
          }
        : { ...from, id, name };
      open.edit((old) => withAnchor(old, anchor, (one) => ({ ...one, alternatives: [...one.alternatives, made] })));
      return id;
    },
    drop: (id: string) =>
      open.edit((old) => ({
        ...old,
        anchors: old.anchors.map((anchor) => ({
          ...anchor,
          alternatives: anchor.alternatives.filter((one) => one.id !== id),
        })),
      })),
    use: (id: string) =>
      open.edit((old) => ({
        ...old,
        anchors: old.anchors.map((anchor) =>
          anchor.alternatives.some((one) => one.id === id) ? { ...anchor, taken: id } : anchor,
        ),
      })),
  };
}

const atEnd = (leg: Leg) => leg.method === "bowline-round" || leg.method === "figure-eight-round";
const passed = (leg: Leg, feature: string): Leg => ({ ...leg, method: "passed", turns: null, pulled: null, feature });

/** One piece led on round another feature, before the one that its end is tied to. */
function ledOn(legs: Leg[], to: string): Leg[] {
  const last = legs[legs.length - 1]!;
  const more = passed(last, to);
  return legs.length > 1 && atEnd(last) ? [...legs.slice(0, -1), more, last] : [...legs, more];
}

/** A leg of a piece of its own: what only goes with one piece for all legs is wrapped. */
export function byItself(leg: Leg): Leg {
  return leg.method === "passed" || leg.method === "clove-round" ? { ...leg, method: "wrap-pull", turns: 3 } : leg;
}

/** Three feet under a working point, two behind and one in front, nobody has looked at yet; what was tied stays as guys. */
function onFeet(old: Document, now: Arrangement): { document: Document; legs: Leg[] } {
  const guys = now.legs.filter((one) => one.method !== "frame-leg");
  if (guys.length < now.legs.length) return { document: old, legs: now.legs };
  const { x_m: x = 0, y_m: y = 0, z_m: z = 0 } = now.point ?? {};
  const ids = old.features.map((one) => one.id);
  const made = [
    [-0.9, -0.9],
    [-0.9, 0.9],
    [1.1, 0],
  ].map(([out, aside]): Feature => {
    const id = fresh("foot", ids);
    ids.push(id);
    const place = { x_m: round(x + out!), y_m: round(y + aside!), z_m: round(z - 2.2) };
    return {
      id,
      name: `Foot ${ids.length}`,
      kind: "frame-foot",
      ...place,
      answers: {},
      basis: "",
      reason: "",
      judged_by: "",
      guard: "",
    };
  });
  const feet = made.map((one): Leg => ({
    ...LEG,
    feature: one.id,
    method: "frame-leg",
    material: "frame-tube",
    turns: 1,
    extension: null,
  }));
  return { document: { ...old, features: [...old.features, ...made] }, legs: [...feet, ...guys] };
}

/** The legs without those that stand on feet; one on the first feature where none is left. */
function offFeet(old: Document, now: Arrangement): Leg[] {
  const tied = now.legs.filter((one) => one.method !== "frame-leg");
  const to = old.features.find((one) => one.kind !== "frame-foot");
  return tied.length || !to ? tied : [{ ...LEG, feature: to.id }];
}

export type AnchorEdits = ReturnType<typeof useAnchorEdits>;
