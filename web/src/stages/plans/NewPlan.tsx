/** A plan begun from its scene: drawn live from a few numbers, asking only what that scene needs. The rest stays open, and says so. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Catalogue, Fault, Team } from "../../api/types";
import { faultsOf } from "../../ui/faults";
import { FaultContext } from "../../ui/faultContext";
import { Choice, FaultAt, TextField } from "../../ui/fields";
import { Sheet } from "../../ui/Sheet";
import { Stepper } from "../../ui/Stepper";
import { SceneDrawing } from "./SceneDrawing";
import { begun, missing, NOTHING, SCENES, type Given, type Scene } from "./scenes";

/** Paths of the document that each answer of this sheet ends up in. */
const PATHS: Record<string, string> = { title: "title", "ropes[0].length_m": "ropeLength", "team.haulers": "haulers" };

/** The kinds of rope that most teams carry. */
const ROPES = ["low-stretch-11", "general-use-12.7", "low-stretch-10-b"];

interface Props {
  team: Team;
  catalogue: Catalogue;
  onClose: () => void;
}

export function NewPlan({ team, catalogue, onClose }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [given, setGiven] = useState<Given>(NOTHING);
  const [faults, setFaults] = useState<Fault[]>([]);
  const [id] = useState(() => newId());
  const form = useRef<HTMLFormElement>(null);
  const set = (part: Partial<Given>) => setGiven((old) => ({ ...old, ...part }));
  const scene = SCENES.find((one) => one.id === given.scene);

  // What is wrong stands where it is seen.
  useEffect(() => {
    if (faults.length) form.current?.querySelector("[role=alert]")?.scrollIntoView({ block: "center" });
  }, [faults]);

  const begin = async (event: FormEvent) => {
    event.preventDefault();
    const open = missing(given);
    if (open.length) {
      setFaults(open.map((path) => ({ path, problem: "not said yet", right: "give this to begin" })));
      return;
    }
    try {
      const document = begun(given, catalogue.features[given.kind!]!.name);
      const plan = answered(await api.POST("/api/plans", { body: { team: team.id, id, document } }));
      await queries.invalidateQueries({ queryKey: ["plans"] });
      void go(`/plans/${plan.id}/lines`);
    } catch (error) {
      const found = faultsOf(error, "what you typed is still here; try again");
      setFaults(
        found.map((fault) => {
          const path = fault.path.replace(/^document\./, "");
          return { ...fault, path: PATHS[path] ?? path };
        }),
      );
    }
  };
  const known = scene ? new Set([...Object.keys(given), ...scene.asks.map((one) => one.id)]) : new Set(["scene"]);
  const unplaced = faults.filter((fault) => !known.has(fault.path));

  return (
    <Sheet title="New plan" onClose={onClose} wide="table">
      <FaultContext value={faults}>
        <form ref={form} onSubmit={(event) => void begin(event)} className="flex flex-col gap-3">
          <Scenes given={given} onScene={(one) => set({ scene: one.id, kind: null, surface: null, contact: null })} />
          {scene ? (
            <div className="grid gap-x-6 gap-y-3 roomy:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]">
              <div className="self-start roomy:sticky roomy:top-0">
                <SceneDrawing scene={scene.id} numbers={given.numbers} />
                <p className="font-label text-quiet">
                  Level ground a metre under the working point until it is measured. Webbing wrapped 3, pulled 2 (a
                  sling where nothing can be wrapped); alloy connectors; a figure-eight at the load; 5 m of tail. All of
                  it is changed on the sheet, and everything else stays open there and says so.
                </p>
              </div>
              <Asked scene={scene} given={given} set={set} catalogue={catalogue} />
            </div>
          ) : null}
          {unplaced.length ? (
            <ul role="alert" className="font-semibold text-over">
              {unplaced.map((fault) => (
                <li key={fault.path + fault.problem}>
                  ◆ {fault.path}: {fault.problem}; {fault.right}
                </li>
              ))}
            </ul>
          ) : null}
          {scene ? (
            <button type="submit" className="button button-main min-h-14 self-start px-8">
              Begin
            </button>
          ) : null}
        </form>
      </FaultContext>
    </Sheet>
  );
}

/** Which scene it is, each as it looks. */
function Scenes({ given, onScene }: { given: Given; onScene: (scene: Scene) => void }) {
  return (
    <fieldset className="grid grid-cols-5 gap-2 narrow:grid-cols-3">
      <legend className="mb-1 field-label">What is it?</legend>
      {SCENES.map((one) => (
        <label
          key={one.id}
          className="relative flex min-h-14 cursor-pointer flex-col items-center justify-end border-[1.5px] border-ink p-1 has-checked:bg-tint has-checked:font-semibold has-focus-visible:outline-3 has-focus-visible:outline-over"
        >
          <input
            type="radio"
            name="scene"
            className="absolute inset-0 cursor-pointer opacity-0"
            checked={given.scene === one.id}
            onChange={() => onScene(one)}
          />
          <SceneDrawing scene={one.id} numbers={{}} small />
          {one.name}
        </label>
      ))}
    </fieldset>
  );
}

interface AskedProps {
  scene: Scene;
  given: Given;
  set: (part: Partial<Given>) => void;
  catalogue: Catalogue;
}

function Asked({ scene, given, set, catalogue }: AskedProps) {
  const named = (table: Record<string, { id: string; name: string }>, ids: string[]) =>
    ids.flatMap((one) => (table[one] ? [{ id: one, name: table[one].name }] : []));
  const mass = (id: "casualty" | "attendants" | "litter", label: string, usual: number[]) => (
    <Stepper
      label={label}
      path={id}
      unit="kg"
      value={given[id]}
      usual={usual}
      step={5}
      least={0}
      most={2000}
      onChange={(value) => set(id === "casualty" ? { casualty: value } : { [id]: value ?? 0 })}
    />
  );
  return (
    <div className="grid content-start gap-x-4 gap-y-3 sm:grid-cols-2">
      <div className="sm:col-span-2">
        <TextField label="What and where" path="title" value={given.title} onChange={(title) => set({ title })} />
      </div>
      {scene.asks.map((one) => (
        <Stepper
          key={`${scene.id} ${one.id}`}
          {...one}
          path={one.id}
          value={given.numbers[one.id] ?? null}
          onChange={(value) => set({ numbers: { ...given.numbers, [one.id]: value ?? undefined } })}
        />
      ))}
      {scene.surfaces.length ? (
        <Few
          label={scene.id === "slope" ? "Ground of the slope" : "Bare ground at the edge"}
          path="surface"
          value={given.surface}
          few={named(catalogue.surfaces, scene.surfaces)}
          all={Object.values(catalogue.surfaces).filter((one) => one.role === "ground")}
          onChange={(surface) => set({ surface })}
        />
      ) : null}
      {scene.contacts.length > 1 ? (
        <Few
          label="How the load meets the ground"
          path="contact"
          value={given.contact}
          few={named(catalogue.contacts, scene.contacts)}
          onChange={(contact) => set({ contact })}
        />
      ) : null}
      {mass("casualty", "Casualty", [60, 70, 80, 90, 110])}
      {mass("attendants", "Attendants on the rope, together", [0, 75, 85, 160, 180])}
      {mass("litter", "Litter and kit", [0, 10, 15, 25, 30])}
      <Stepper
        label="People who can pull"
        path="haulers"
        unit=""
        value={given.haulers}
        usual={[2, 3, 4, 6, 8]}
        step={1}
        least={0}
        most={100}
        onChange={(haulers) => set({ haulers })}
      />
      <Few
        label={scene.id === "crossing" ? "Tied to, on either side" : "Tied to"}
        path="kind"
        value={given.kind}
        few={named(catalogue.features, scene.kinds)}
        all={Object.values(catalogue.features).filter((one) => !one.pushes)}
        onChange={(kind) => set({ kind })}
      />
      <Few
        label={scene.id === "crossing" ? "Rope" : "Rope (may stay open)"}
        path="rope"
        value={given.rope}
        few={named(catalogue.ropes, ROPES)}
        all={Object.values(catalogue.ropes)}
        onChange={(rope) => set({ rope })}
      />
      <Stepper
        label="Rope length"
        path="ropeLength"
        unit="m"
        value={given.ropeLength}
        usual={[30, 50, 60, 100, 200]}
        step={5}
        least={1}
        most={2000}
        onChange={(ropeLength) => set({ ropeLength })}
      />
    </div>
  );
}

interface FewProps {
  label: string;
  path: string;
  value: string | null;
  /** What it usually is, one touch each. */
  few: { id: string; name: string }[];
  /** Everything that it may be, where that is more. */
  all?: { id: string; name: string }[];
  onChange: (value: string) => void;
}

/** One of a few by touch, or any other from a list. */
function Few({ label, path, value, few, all, onChange }: FewProps) {
  const others = (all ?? []).filter((one) => !few.some((other) => other.id === one.id));
  return (
    <div className="min-w-0 sm:col-span-2" role="group" aria-label={label}>
      <p className="field-label" aria-hidden>
        {label}
      </p>
      <div className="flex flex-wrap items-end gap-1">
        {few.map((one) => (
          <button
            key={one.id}
            type="button"
            aria-pressed={one.id === value}
            className="min-h-14 rounded-[3px] border-[1.5px] border-ink px-3 text-left leading-tight aria-pressed:bg-ink aria-pressed:text-sheet"
            onClick={() => onChange(one.id)}
          >
            {one.name}
          </button>
        ))}
        {others.length ? (
          <div className="min-w-40 flex-1">
            <Choice
              label={`${label}, another`}
              path={path}
              value={others.some((one) => one.id === value) ? value : null}
              options={others}
              onChange={(other) => other && onChange(other)}
              none="another"
              quiet
            />
          </div>
        ) : (
          <FaultAt path={path} />
        )}
      </div>
    </div>
  );
}
