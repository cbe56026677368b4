/** The scenes that a plan begins from: what each asks, the ground that its numbers make, and the document with everything else open. */
import type { Anchor, Document, Feature, Point } from "../../api/types";
import { bareLine, bareRope, LEG } from "../../plan/document";

export type SceneId = "cliff" | "slope" | "lift" | "crossing" | "snow";
export type NumberId = "edge" | "drop" | "angle" | "length" | "width" | "higher" | "deep";

export interface Asked {
  id: NumberId;
  label: string;
  unit: string;
  /** What it usually is; the middle one is where the steps begin. */
  usual: number[];
  step: number;
  least: number;
  most: number;
}

export interface Scene {
  id: SceneId;
  name: string;
  asks: Asked[];
  /** What the rope may lie on, where that is asked. */
  surfaces: string[];
  /** How the load may meet the ground. */
  contacts: string[];
  /** What is usually tied to there. */
  kinds: string[];
}

const edge = (label: string, usual: number[]): Asked => ({
  id: "edge",
  label,
  unit: "m",
  usual,
  step: 1,
  least: 0.5,
  most: 200,
});
const drop = (label: string, usual: number[]): Asked => ({
  id: "drop",
  label,
  unit: "m",
  usual,
  step: 1,
  least: 1,
  most: 500,
});
const SLOPE: Asked[] = [
  { id: "angle", label: "Slope", unit: "°", usual: [25, 30, 35, 40, 50], step: 5, least: 5, most: 80 },
  { id: "length", label: "Length of the slope", unit: "m", usual: [20, 30, 40, 60, 100], step: 5, least: 2, most: 500 },
];
const TREES = ["tree", "boulder", "bolt", "picket"];

export const SCENES: Scene[] = [
  {
    id: "cliff",
    name: "Cliff",
    asks: [edge("Working point to the edge", [4, 6, 8, 10, 15]), drop("Drop below the edge", [10, 15, 20, 30, 50])],
    surfaces: ["rough-rock", "smooth-rock", "soil-grass", "concrete"],
    contacts: ["hangs", "carried"],
    kinds: TREES,
  },
  {
    id: "slope",
    name: "Slope",
    asks: [edge("Working point to the brink", [2, 4, 6, 8, 12]), ...SLOPE],
    surfaces: ["soil-grass", "rough-rock"],
    contacts: ["carried", "slides-soil", "slides-rock"],
    kinds: TREES,
  },
  {
    id: "lift",
    name: "Straight lift",
    asks: [drop("Drop below the working point", [4, 6, 8, 12, 20])],
    surfaces: [],
    contacts: ["hangs"],
    kinds: ["beam", "column", "structure", "tree"],
  },
  {
    id: "crossing",
    name: "Crossing",
    asks: [
      {
        id: "width",
        label: "From anchor to anchor",
        unit: "m",
        usual: [10, 15, 20, 30, 50],
        step: 1,
        least: 3,
        most: 300,
      },
      {
        id: "higher",
        label: "Far anchor higher by (− lower)",
        unit: "m",
        usual: [-5, -2, 0, 2, 5],
        step: 1,
        least: -100,
        most: 100,
      },
      {
        id: "deep",
        label: "Bottom below the near anchor",
        unit: "m",
        usual: [3, 5, 8, 12, 20],
        step: 1,
        least: 1.5,
        most: 300,
      },
    ],
    surfaces: [],
    contacts: ["hangs"],
    kinds: TREES,
  },
  {
    id: "snow",
    name: "Snow",
    asks: [edge("Working point to the lip", [3, 4, 6, 8, 10]), ...SLOPE],
    surfaces: [],
    contacts: ["slides-snow", "hangs"],
    kinds: ["snow-deadman", "snow-picket", "ice-axe", "ice-screw"],
  },
];

export interface Given {
  scene: SceneId | null;
  title: string;
  numbers: { [id in NumberId]?: number | undefined };
  surface: string | null;
  contact: string | null;
  casualty: number | null;
  attendants: number;
  litter: number;
  kind: string | null;
  rope: string | null;
  ropeLength: number | null;
  haulers: number | null;
}

export const NOTHING: Given = {
  scene: null,
  title: "",
  numbers: {},
  surface: null,
  contact: null,
  casualty: null,
  attendants: 0,
  litter: 0,
  kind: null,
  rope: null,
  ropeLength: null,
  haulers: null,
};

/** A working point is taken so high above level ground until the ground is measured. */
const ABOVE_M = 1;
/** So much is seen of the ground behind the working point, and beyond the foot. */
const [BEHIND_M, BEYOND_M] = [5, 6];
const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** The ground of a scene from the side, where its load lies and its anchors are, as far as its numbers are given. */
export function sceneOf(
  scene: SceneId,
  numbers: Given["numbers"],
): { profile: Point[]; load: Point; anchors: Point[] } | null {
  const asked = SCENES.find((one) => one.id === scene)!.asks;
  if (asked.some((one) => numbers[one.id] === undefined)) return null;
  const [out, down] = [numbers.edge ?? 0, numbers.drop ?? 0];
  const here = { x_m: 0, z_m: 0 };
  if (scene === "crossing") return crossing(numbers.width!, numbers.higher!, numbers.deep!);
  if (scene === "lift") {
    const foot = -down;
    const side = 1.2;
    return {
      profile: [
        { x_m: -BEHIND_M, z_m: -ABOVE_M },
        { x_m: -side, z_m: -ABOVE_M },
        { x_m: -side, z_m: foot },
        { x_m: side, z_m: foot },
        { x_m: side, z_m: -ABOVE_M },
        { x_m: BEHIND_M, z_m: -ABOVE_M },
      ],
      load: { x_m: 0, z_m: foot },
      anchors: [here],
    };
  }
  if (scene === "cliff") {
    const foot = -ABOVE_M - down;
    return {
      profile: [
        { x_m: -BEHIND_M, z_m: -ABOVE_M },
        { x_m: out, z_m: -ABOVE_M },
        { x_m: out, z_m: foot },
        { x_m: out + BEYOND_M, z_m: foot },
      ],
      load: { x_m: out, z_m: foot },
      anchors: [here],
    };
  }
  const run = numbers.length! * Math.cos(radians(numbers.angle!));
  const fall = numbers.length! * Math.sin(radians(numbers.angle!));
  const end = { x_m: rounded(out + run), z_m: rounded(-ABOVE_M - fall) };
  return {
    profile: [
      { x_m: -BEHIND_M, z_m: -ABOVE_M },
      { x_m: out, z_m: -ABOVE_M },
      end,
      { x_m: rounded(end.x_m + BEYOND_M), z_m: end.z_m },
    ],
    load: end,
    anchors: [here],
  };
}

function crossing(width: number, higher: number, deep: number) {
  const bank = Math.min(1.5, width / 6);
  const far = rounded(higher);
  const bottom = rounded(-Math.max(deep, ABOVE_M + 0.5, ABOVE_M + 0.5 - far));
  const side = Math.min(deep / 2, width / 4);
  return {
    profile: [
      { x_m: -BEHIND_M, z_m: -ABOVE_M },
      { x_m: bank, z_m: -ABOVE_M },
      { x_m: rounded(bank + side), z_m: bottom },
      { x_m: rounded(width - bank - side), z_m: bottom },
      { x_m: width - bank, z_m: far - ABOVE_M },
      { x_m: width + BEHIND_M, z_m: far - ABOVE_M },
    ],
    load: { x_m: width - bank, z_m: far - ABOVE_M },
    anchors: [
      { x_m: 0, z_m: 0 },
      { x_m: width, z_m: far },
    ],
  };
}

const rounded = (metres: number) => Math.round(metres * 100) / 100;

/** What is not said yet of all that a plan needs to begin, by its field. */
export function missing(given: Given): string[] {
  const scene = SCENES.find((one) => one.id === given.scene);
  if (!scene) return ["scene"];
  const found: string[] = scene.asks.filter((one) => given.numbers[one.id] === undefined).map((one) => one.id);
  if (!given.title.trim()) found.push("title");
  if (scene.surfaces.length && !given.surface) found.push("surface");
  if (scene.contacts.length > 1 && !given.contact) found.push("contact");
  if (given.casualty === null) found.push("casualty");
  if (!given.kind) found.push("kind");
  if (given.haulers === null) found.push("haulers");
  // A rope may stay open, but not half of it; a crossing is a rope.
  if (!given.rope && (given.ropeLength !== null || scene.id === "crossing")) found.push("rope");
  if (given.ropeLength === null && (given.rope || scene.id === "crossing")) found.push("ropeLength");
  return found;
}

/** The plan that a scene begins as. `kindName`: how the kind of its anchor is called. */
export function begun(given: Given, kindName: string): Document {
  const id = given.scene!;
  const scene = SCENES.find((one) => one.id === id)!;
  const made = sceneOf(id, given.numbers)!;
  const kind = given.kind!;
  const near = featureAt(
    "first",
    id === "crossing" ? `${kindName}, near side` : kindName,
    kind,
    made.anchors[0]!,
    id === "lift",
  );
  const anchors = [anchorAt("main", id === "crossing" ? "Near end" : "Main anchor", near, made.anchors[0]!)];
  const features = [near];
  const across = made.anchors[1];
  if (across) {
    const far = featureAt("second", `${kindName}, far side`, kind, across, false, true);
    features.push(far);
    anchors.push(anchorAt("far", "Far end", far, across));
  }
  const items = [
    { name: "Casualty", mass_kg: given.casualty! },
    { name: "Attendants", mass_kg: given.attendants },
    { name: "Litter and kit", mass_kg: given.litter },
  ].filter((one) => one.mass_kg > 0);
  const roped = Boolean(given.rope && given.ropeLength);
  const rope = roped ? [bareRope("main", given.rope!, given.ropeLength!)] : [];
  return {
    schema_version: 4,
    operation: { begins: "ground", belay: "harness", sections: null },
    title: given.title.trim(),
    place: "",
    day: { state: null },
    load: {
      items: items.map((one) => ({ ...one, plus_minus_kg: 0 })),
      contact: given.contact ?? scene.contacts[0]!,
    },
    site: {
      profile: made.profile,
      surface: given.surface ?? (id === "snow" ? "snow-firm" : id === "crossing" ? "soil-grass" : "concrete"),
      edges:
        id === "snow"
          ? [
              {
                name: "Lip",
                x_m: given.numbers.edge!,
                z_m: -ABOVE_M,
                surface: "snow-lip",
                protection: null,
                sawn: false,
              },
            ]
          : [],
      load_at: made.load,
    },
    features,
    anchors,
    kit: [],
    bags: { packed: [] },
    ropes: rope,
    lines: roped && !across ? [bareLine("main", "main", "main")] : [],
    tension_lines:
      roped && across
        ? [
            {
              id: "across",
              rope: "main",
              anchor: "main",
              far: "far",
              ropes: 1,
              end_knot: "figure-eight-loop",
              pretension_n: 500,
              slips: null,
              hang_m: 1,
            },
          ]
        : [],
    team: { haulers: given.haulers!, sustained_n: null, heave_n: null, people: [], paces: [] },
    rules: { school: "static-ratio", anchors_ratio: 10, others_ratio: 5, slip_ratio: 2, cap_margin: 2 },
    accepted: [],
    found: [],
    tested: [],
  };
}

/** Where what is tied to stands: behind its working point, or over it. */
function featureAt(id: string, name: string, kind: string, at: Point, over: boolean, beyond = false): Feature {
  return {
    id,
    name,
    kind,
    x_m: over ? at.x_m - 0.4 : at.x_m + (beyond ? 2 : -2),
    y_m: 0,
    z_m: over ? at.z_m + 0.3 : at.z_m,
    answers: {},
    rating_n: null,
    basis: "",
    reason: "",
    judged_by: "",
    guard: "",
  };
}

/** Of what is tied in another way than round it. */
const TIED: Record<string, { method: string; material: string; turns: number }> = {
  "snow-deadman": { method: "girth-hitch", material: "sewn-sling-22", turns: 1 },
  "snow-picket": { method: "girth-hitch", material: "sewn-sling-22", turns: 1 },
  "ice-axe": { method: "girth-hitch", material: "sewn-sling-22", turns: 1 },
  "ice-screw": { method: "basket-loop", material: "sewn-sling-22", turns: 1 },
  bolt: { method: "basket-loop", material: "sewn-sling-22", turns: 1 },
};

function anchorAt(id: string, name: string, feature: Feature, at: Point): Anchor {
  const tie = TIED[feature.kind] ?? { method: LEG.method, material: LEG.material, turns: LEG.turns };
  return {
    id,
    name,
    taken: `${id}-first`,
    alternatives: [
      {
        id: `${id}-first`,
        name: feature.name,
        scheme: "single",
        point: { ...at, y_m: 0 },
        legs: [{ ...LEG, extension: null, ...tie, feature: feature.id }],
        connector: "alloy-b",
        swing_rad: Math.PI / 12,
        slider: "carabiner",
        ties: [],
        locked: false,
      },
    ],
  };
}
