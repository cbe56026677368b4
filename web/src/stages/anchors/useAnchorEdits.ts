/** Changes to features and arrangements of the open plan. */
import type { Arrangement, Feature, Leg, Scheme } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";

function fresh(stem: string, taken: string[]): string {
  let number = 1;
  while (taken.includes(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}

const LEG: Omit<Leg, "feature"> = { method: "wrap-pull", material: "tubular-25", turns: 3, extension: "rope-11", extension_knot: "figure-eight-loop" };

export function useAnchorEdits(open: OpenPlan) {
  const feature = (id: string, change: Partial<Feature>) => open.edit((old) => ({ ...old, features: old.features.map((one) => (one.id === id ? { ...one, ...change } : one)) }));
  const arrangement = (id: string, change: (old: Arrangement) => Arrangement) => open.edit((old) => ({ ...old, arrangements: old.arrangements.map((one) => (one.id === id ? change(one) : one)) }));
  const leg = (id: string, index: number, change: Partial<Leg>) => arrangement(id, (old) => ({ ...old, legs: old.legs.map((one, at) => (at === index ? { ...one, ...change } : one)) }));
  return {
    feature,
    arrangement,
    leg,
    addFeatures: (found: Feature[]) => open.edit((old) => ({ ...old, features: [...old.features, ...found] })),
    newFeatureId: () => fresh("feature", open.document.features.map((one) => one.id)),
    dropFeature: (id: string) => open.edit((old) => ({ ...old, features: old.features.filter((one) => one.id !== id) })),
    addLeg: (id: string, to: string) => arrangement(id, (old) => ({ ...old, legs: [...old.legs, { ...LEG, feature: to }] })),
    dropLeg: (id: string, index: number) => arrangement(id, (old) => ({ ...old, legs: old.legs.filter((_, at) => at !== index) })),
    scheme: (id: string, scheme: Scheme) =>
      arrangement(id, (old) => ({
        ...old,
        scheme,
        span: scheme === "span" ? (old.span ?? { ropes: 1, carriage: "gathered", ends: "gathered", slips: null }) : null,
        prop: scheme === "floating" ? (old.prop ?? null) : null,
      })),
    /** A new arrangement on the given features, or a copy of one; its id. */
    add: (name: string, from: Arrangement | string[]) => {
      const id = fresh("arrangement", open.document.arrangements.map((one) => one.id));
      const made: Arrangement = Array.isArray(from)
        ? { id, name, scheme: from.length === 1 ? "single" : "fixed", point: { x_m: 0, y_m: 0, z_m: 0 }, legs: from.map((to) => ({ ...LEG, feature: to })), connector: "steel", swing_rad: Math.PI / 12, slider: "carabiner", locked: false }
        : { ...from, id, name };
      open.edit((old) => ({ ...old, arrangements: [...old.arrangements, made] }));
      return id;
    },
    drop: (id: string) => open.edit((old) => ({ ...old, arrangements: old.arrangements.filter((one) => one.id !== id) })),
    use: (id: string) => open.edit((old) => ({ ...old, in_use: id })),
  };
}

export type AnchorEdits = ReturnType<typeof useAnchorEdits>;
