/** Changes to features and arrangements of the open plan. */
import type { Arrangement, Feature, Leg, Scheme } from "../../api/types";
import { arrangements, fresh, LEG, withAnchor } from "../../plan/document";
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
      arrangement(id, (old) => ({ ...old, legs: [...old.legs, { ...LEG, feature: to }] })),
    dropLeg: (id: string, index: number) =>
      arrangement(id, (old) => ({ ...old, legs: old.legs.filter((_, at) => at !== index) })),
    scheme: (id: string, scheme: Scheme) =>
      arrangement(id, (old) => ({
        ...old,
        scheme,
        span:
          scheme === "span" ? (old.span ?? { ropes: 1, carriage: "gathered", ends: "gathered", slips: null }) : null,
        prop: scheme === "floating" ? (old.prop ?? null) : null,
      })),
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

export type AnchorEdits = ReturnType<typeof useAnchorEdits>;
