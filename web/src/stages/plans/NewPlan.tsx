/** The least that has to be known to begin: who hangs on the rope, edge and drop, rope and people. The rest stays open, and says so. */
import { useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Catalogue, Document, Fault, Team } from "../../api/types";
import { bareLine, bareRope } from "../../plan/document";
import { faultsOf } from "../../ui/faults";
import { FaultContext } from "../../ui/faultContext";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { Sheet } from "../../ui/Sheet";

interface Given {
  title: string;
  casualty: number | null;
  attendants: number | null;
  litter: number | null;
  contact: string | null;
  surface: string | null;
  way: string;
  edge: number | null;
  drop: number | null;
  kind: string | null;
  feature: string;
  rope: string | null;
  length: number | null;
  haulers: number | null;
}

const NOTHING: Given = {
  title: "",
  casualty: null,
  attendants: null,
  litter: null,
  contact: null,
  surface: null,
  way: "edge",
  edge: null,
  drop: null,
  kind: null,
  feature: "",
  rope: null,
  length: null,
  haulers: null,
};

const WAYS = [
  { id: "edge", name: "Over an edge" },
  { id: "straight", name: "Straight lift: shaft, stairwell, limb, frame" },
];

/** Paths of the document that each answer of this sheet ends up in. */
const PATHS: Record<string, keyof Given> = { title: "title", "ropes[0].length_m": "length", "team.haulers": "haulers" };

function composed(given: Required<{ [K in keyof Given]: NonNullable<Given[K]> }>): Document {
  const people = [
    { name: "Casualty", mass_kg: given.casualty },
    { name: "Attendants", mass_kg: given.attendants },
    { name: "Litter and kit", mass_kg: given.litter },
  ].filter((item) => item.mass_kg !== 0);
  const straight = given.way === "straight";
  const foot = straight ? -given.drop : -1 - given.drop;
  // The working point is taken a metre above level ground, or in the middle over a shaft, until the profile is measured.
  const ground = straight
    ? [
        { x_m: -4, z_m: -1 },
        { x_m: -1.2, z_m: -1 },
        { x_m: -1.2, z_m: foot },
        { x_m: 1.2, z_m: foot },
        { x_m: 1.2, z_m: -1 },
        { x_m: 4, z_m: -1 },
      ]
    : [
        { x_m: -4, z_m: -1 },
        { x_m: given.edge, z_m: -1 },
        { x_m: given.edge, z_m: foot },
        { x_m: given.edge + 6, z_m: foot },
      ];
  const at = { x_m: straight ? 0 : given.edge, z_m: foot };
  return {
    schema_version: 3,
    day: { state: null },
    title: given.title,
    place: "",
    load: { items: people.map((item) => ({ ...item, plus_minus_kg: 0 })), contact: given.contact },
    site: { profile: ground, surface: given.surface, edges: [], load_at: at },
    features: [
      {
        id: "first",
        name: given.feature,
        kind: given.kind,
        x_m: straight ? -0.4 : -2,
        y_m: 0,
        z_m: straight ? 0.3 : 0,
        answers: {},
        rating_n: null,
        basis: "",
        reason: "",
        judged_by: "",
        guard: "",
      },
    ],
    anchors: [
      {
        id: "main",
        name: "Main anchor",
        taken: "first",
        alternatives: [
          {
            id: "first",
            name: given.feature,
            scheme: "single",
            point: { x_m: 0, y_m: 0, z_m: 0 },
            legs: [
              {
                feature: "first",
                method: "wrap-pull",
                material: "tubular-25",
                turns: 3,
                extension_knot: "figure-eight-loop",
              },
            ],
            connector: "alloy-b",
            swing_rad: Math.PI / 12,
            slider: "carabiner",
            locked: false,
          },
        ],
      },
    ],
    kit: [],
    bags: {},
    tension_lines: [],
    ropes: [bareRope("main", given.rope, given.length)],
    lines: [bareLine("main", "main", "main")],
    team: { haulers: given.haulers, sustained_n: null, heave_n: null, people: [] },
    accepted: [],
    found: [],
    rules: { school: "static-ratio", anchors_ratio: 10, others_ratio: 5, slip_ratio: 2, cap_margin: 2 },
  };
}

export function NewPlan({ team, catalogue, onClose }: { team: Team; catalogue: Catalogue; onClose: () => void }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [given, setGiven] = useState<Given>(NOTHING);
  const [faults, setFaults] = useState<Fault[]>([]);
  const [id] = useState(() => newId());
  const set = (part: Partial<Given>) => setGiven((old) => ({ ...old, ...part }));
  const number = (key: keyof Given, label: string, unit: string) => (
    <NumberField
      label={label}
      unit={unit}
      path={key}
      value={given[key] as number | null}
      onChange={(value) => set({ [key]: value })}
    />
  );
  const options = (table: Record<string, { id: string; name: string }>) => Object.values(table);

  const begin = async (event: FormEvent) => {
    event.preventDefault();
    const missing = Object.entries(given).filter(
      ([path, value]) => (value === null || value === "") && !(given.way === "straight" && path === "edge"),
    );
    if (missing.length) {
      setFaults(missing.map(([path]) => ({ path, problem: "not said yet", right: "give this to begin" })));
      return;
    }
    try {
      const document = composed(given as Parameters<typeof composed>[0]);
      const plan = answered(await api.POST("/api/plans", { body: { team: team.id, id, document } }));
      await queries.invalidateQueries({ queryKey: ["plans"] });
      void go(`/plans/${plan.id}/lines`);
    } catch (error) {
      const found = faultsOf(error, "what you typed is still here; try again");
      setFaults(
        found.map((fault) => ({
          ...fault,
          path: PATHS[fault.path.replace(/^document\./, "")] ?? fault.path.replace(/^document\./, ""),
        })),
      );
    }
  };
  const unplaced = faults.filter((fault) => !(fault.path in given));

  return (
    <Sheet title="New plan" onClose={onClose} wide>
      <FaultContext value={faults}>
        <form onSubmit={(event) => void begin(event)} className="grid gap-x-4 gap-y-3 sm:grid-cols-3">
          <div className="sm:col-span-3">
            <TextField label="What and where" path="title" value={given.title} onChange={(title) => set({ title })} />
          </div>
          {number("casualty", "Casualty", "kg")}
          {number("attendants", "Attendants on the rope, together (0 for none)", "kg")}
          {number("litter", "Litter and kit (0 for none)", "kg")}
          <Choice
            label="How the load meets the ground"
            path="contact"
            value={given.contact}
            options={options(catalogue.contacts)}
            onChange={(contact) => set({ contact })}
          />
          <Choice
            label="The rope's way"
            path="way"
            value={given.way}
            options={WAYS}
            onChange={(way) => set({ way: way ?? "edge" })}
          />
          {given.way === "straight" ? null : number("edge", "Working point to the edge", "m")}
          {number("drop", given.way === "straight" ? "Drop below the working point" : "Drop below the edge", "m")}
          <Choice
            label="Bare ground at the edge"
            path="surface"
            value={given.surface}
            options={options(catalogue.surfaces).filter((one) => catalogue.surfaces[one.id]?.role === "ground")}
            onChange={(surface) => set({ surface })}
          />
          <Choice
            label="Anchor feature"
            path="kind"
            value={given.kind}
            options={options(catalogue.features)}
            onChange={(kind) => set({ kind })}
          />
          <TextField label="Its name" path="feature" value={given.feature} onChange={(feature) => set({ feature })} />
          <Choice
            label="Rope"
            path="rope"
            value={given.rope}
            options={options(catalogue.ropes)}
            onChange={(rope) => set({ rope })}
          />
          {number("length", "Rope length", "m")}
          {number("haulers", "People who can pull", "")}
          <div className="flex flex-wrap items-center gap-4 sm:col-span-3">
            <button type="submit" className="button button-main">
              Begin
            </button>
            <p className="font-label text-quiet">
              Until you change it on the sheet: webbing wrapped 3, pulled 2; alloy connectors; a figure-eight at the
              load; 5 m of tail. Everything else stays open there, and says so.
            </p>
          </div>
          {unplaced.length ? (
            <ul role="alert" className="font-semibold text-over sm:col-span-3">
              {unplaced.map((fault) => (
                <li key={fault.path + fault.problem}>
                  ◆ {fault.path}: {fault.problem}; {fault.right}
                </li>
              ))}
            </ul>
          ) : null}
        </form>
      </FaultContext>
    </Sheet>
  );
}
