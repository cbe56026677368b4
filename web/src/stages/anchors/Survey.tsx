/** Placing features: by tape and compass, by coordinates, by a rangefinder, and from and to files. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ChangeEvent } from "react";
import { answered, api } from "../../device/client";
import type { Catalogue, Fault, Feature, Place3, Reading, ReadingOut } from "../../api/types";
import { mainAnchor, taken } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { faultsOf } from "../../ui/faults";
import { FaultContext } from "../../ui/faultContext";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { clock } from "../../ui/format";
import type { AnchorEdits } from "./useAnchorEdits";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  edits: AnchorEdits;
  onPlaced: (id: string) => void;
}

type Form = "csv" | "geojson" | "gpx";
const FORMS: { id: Form; name: string }[] = [
  { id: "csv", name: "CSV" },
  { id: "geojson", name: "GeoJSON" },
  { id: "gpx", name: "GPX" },
];

export function Survey({ open, catalogue, edits, onPlaced }: Props) {
  const [name, setName] = useState("");
  const [kind, setKind] = useState<string | null>("tree");
  const [measured, setMeasured] = useState<Record<"level_m" | "height_m" | "bearing_deg", number | null>>({
    level_m: null,
    height_m: 0,
    bearing_deg: null,
  });
  const [given, setGiven] = useState<Record<"x_m" | "y_m" | "z_m", number | null>>({ x_m: null, y_m: null, z_m: 0 });
  const [faults, setFaults] = useState<Fault[]>([]);
  const [doubts, setDoubts] = useState<string[]>([]);
  const { document } = open;
  const frame = document.site.frame ?? null;
  const off = !open.canEdit;
  const held = taken(mainAnchor(document)).point;

  const attempt = async (work: () => Promise<void>) => {
    setFaults([]);
    setDoubts([]);
    try {
      await work();
    } catch (error) {
      setFaults(faultsOf(error, "what you typed is still here; try again"));
    }
  };
  const add = (place: Place3, called: string, questions: string[]) => {
    const id = edits.newFeatureId();
    const feature: Feature = {
      id,
      name: called,
      kind: kind ?? "other",
      ...place,
      x_m: place.x_m ?? 0,
      answers: {},
      rating_n: null,
      basis: "",
      verdict: null,
      reason: "",
      judged_by: "",
      guard: "",
    };
    edits.addFeatures([feature]);
    setDoubts(questions);
    setName("");
    if (!questions.length) onPlaced(id);
  };
  const called =
    name.trim() || `${catalogue.features[kind ?? "other"]?.name ?? "Feature"} ${document.features.length + 1}`;
  const placed = (reading: unknown) =>
    attempt(async () => {
      const found = answered(
        await api.POST("/api/survey/place", { body: { measured: reading as Reading, frame, held_at: held } }),
      );
      add(found.place, called, found.doubts);
    });
  const taped = () => {
    const missing = Object.entries(measured).filter(([, value]) => value === null);
    if (missing.length)
      return setFaults(missing.map(([path]) => ({ path, problem: "not measured yet", right: "give it" })));
    return placed(measured);
  };
  const typed = () => {
    const missing = Object.entries(given).filter(([, value]) => value === null);
    if (missing.length)
      return setFaults(
        missing.map(([path]) => ({ path, problem: "not given yet", right: "give metres from the working point" })),
      );
    setFaults([]);
    return add(given as Place3, called, []);
  };
  const read = (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    event.target.value = "";
    if (!file) return;
    const ending = file.name.split(".").at(-1)?.toLowerCase() ?? "";
    const format: Form = ending === "gpx" ? "gpx" : ending === "csv" ? "csv" : "geojson";
    void attempt(async () => {
      const found = answered(
        await api.POST("/api/survey/read", { body: { format, text: await file.text(), document } }),
      );
      edits.addFeatures(found);
      setDoubts([`${found.length} taken from ${file.name}: ${found.map((one) => one.name).join(", ")}. Inspect each.`]);
    });
  };
  const write = (format: Form) =>
    attempt(async () => {
      const file = answered(await api.POST("/api/survey/write", { body: { format, document } }));
      const link = window.document.createElement("a");
      link.href = URL.createObjectURL(new Blob([file.text]));
      link.download = file.name;
      link.click();
      URL.revokeObjectURL(link.href);
    });
  const bearing = (value: number | null) =>
    open.edit((old) => ({
      ...old,
      site: { ...old.site, frame: value === null ? null : { elevation_m: 0, ...old.site.frame, bearing_deg: value } },
    }));
  const map = (with_: { latitude_deg?: number | null; longitude_deg?: number | null; elevation_m?: number }) =>
    open.edit((old) =>
      old.site.frame ? { ...old, site: { ...old.site, frame: { ...old.site.frame, ...with_ } } } : old,
    );
  const unplaced = faults.filter(
    (fault) => !["level_m", "height_m", "bearing_deg", "x_m", "y_m", "z_m"].includes(fault.path),
  );
  return (
    <FaultContext value={faults}>
      <div className="grid gap-x-5 gap-y-2 lg:grid-cols-2">
        <section>
          <div className="grid grid-cols-2 gap-2">
            <TextField label="Name of the next one" value={name} disabled={off} onChange={setName} />
            <Choice
              label="What is it"
              value={kind}
              options={Object.values(catalogue.features)}
              disabled={off}
              onChange={setKind}
            />
          </div>
          <h3 className="mt-2 font-semibold">By tape and compass, from the working point</h3>
          <div className="grid grid-cols-[1fr_1fr_1fr_auto] items-end gap-2">
            <NumberField
              label="Distance"
              unit="m"
              optional
              path="level_m"
              value={measured.level_m}
              disabled={off}
              onChange={(level_m) => setMeasured((old) => ({ ...old, level_m }))}
            />
            <NumberField
              label="Bearing"
              unit="°"
              optional
              path="bearing_deg"
              value={measured.bearing_deg}
              disabled={off}
              onChange={(bearing_deg) => setMeasured((old) => ({ ...old, bearing_deg }))}
            />
            <NumberField
              label="Height"
              unit="m"
              optional
              path="height_m"
              value={measured.height_m}
              disabled={off}
              onChange={(height_m) => setMeasured((old) => ({ ...old, height_m }))}
            />
            <button
              type="button"
              className="button"
              disabled={off}
              onClick={() => void taped()}
              aria-label="Place by tape and compass"
            >
              Place
            </button>
          </div>
          <h3 className="mt-2 font-semibold">By metres out, right and up</h3>
          <div className="grid grid-cols-[1fr_1fr_1fr_auto] items-end gap-2">
            <NumberField
              label="Out"
              unit="m"
              optional
              path="x_m"
              value={given.x_m}
              disabled={off}
              onChange={(x_m) => setGiven((old) => ({ ...old, x_m }))}
            />
            <NumberField
              label="Right"
              unit="m"
              optional
              path="y_m"
              value={given.y_m}
              disabled={off}
              onChange={(y_m) => setGiven((old) => ({ ...old, y_m }))}
            />
            <NumberField
              label="Up"
              unit="m"
              optional
              path="z_m"
              value={given.z_m}
              disabled={off}
              onChange={(z_m) => setGiven((old) => ({ ...old, z_m }))}
            />
            <button
              type="button"
              className="button"
              disabled={off}
              onClick={() => void typed()}
              aria-label="Place by metres"
            >
              Place
            </button>
          </div>
        </section>
        <section>
          <Rangefinder open={open} onPlace={(reading) => void placed(reading)} onFaults={setFaults} />
          <h3 className="mt-2 font-semibold">Files</h3>
          <div className="flex flex-wrap gap-2">
            <label className="button flex cursor-pointer items-center font-semibold focus-within:outline-3 focus-within:outline-over">
              Read CSV, GeoJSON or GPX
              <input
                type="file"
                accept=".csv,.geojson,.json,.gpx"
                className="sr-only"
                disabled={off}
                onChange={read}
                aria-label="Features file"
              />
            </label>
            {FORMS.map((form) => (
              <button
                key={form.id}
                type="button"
                className="button px-3"
                onClick={() => void write(form.id)}
                aria-label={`Write ${form.name}`}
              >
                {form.name}
              </button>
            ))}
          </div>
          <h3 className="mt-2 font-semibold">The sheet on the map</h3>
          <div className="grid grid-cols-4 gap-2">
            <NumberField
              label="Fall line"
              unit="°"
              optional
              path="site.frame"
              value={frame?.bearing_deg ?? null}
              disabled={off}
              onChange={bearing}
            />
            <NumberField
              label="Latitude"
              unit="°"
              optional
              value={frame?.latitude_deg ?? null}
              disabled={off || !frame}
              onChange={(latitude_deg) => map({ latitude_deg })}
            />
            <NumberField
              label="Longitude"
              unit="°"
              optional
              value={frame?.longitude_deg ?? null}
              disabled={off || !frame}
              onChange={(longitude_deg) => map({ longitude_deg })}
            />
            <NumberField
              label="Elevation"
              unit="m"
              value={frame?.elevation_m ?? 0}
              disabled={off || !frame}
              onChange={(elevation_m) => map({ elevation_m: elevation_m ?? 0 })}
            />
          </div>
        </section>
        {unplaced.length || doubts.length ? (
          <ul
            role="alert"
            className="border-l-4 border-over bg-tint px-3 py-1.5 lg:col-span-2"
            aria-label="Survey faults"
          >
            {unplaced.map((fault) => (
              <li key={fault.path + fault.problem}>
                <b className="text-over">◆ {fault.path}</b>: {fault.problem}; {fault.right}. Nothing was taken, nothing
                is lost.
              </li>
            ))}
            {doubts.map((doubt) => (
              <li key={doubt}>◇ {doubt}</li>
            ))}
          </ul>
        ) : null}
      </div>
    </FaultContext>
  );
}

/** Readings that an instrument sent, newest first; a simulated one stands in where there is none. */
function Rangefinder({
  open,
  onPlace,
  onFaults,
}: {
  open: OpenPlan;
  onPlace: (reading: Reading) => void;
  onFaults: (faults: Fault[]) => void;
}) {
  const queries = useQueryClient();
  const team = open.plan.team.id;
  const key = ["readings", team];
  const path = { team_id: team };
  const readings = useQuery({
    queryKey: key,
    queryFn: async () => answered(await api.GET("/api/teams/{team_id}/readings", { params: { path } })),
    refetchInterval: 4000,
  });
  const simulate = async () => {
    try {
      const made = answered(
        await api.POST("/api/teams/{team_id}/readings/simulated", {
          params: { path },
          body: { frame: open.document.site.frame ?? null },
        }),
      );
      queries.setQueryData(key, (old: ReadingOut[] | undefined) => [made, ...(old ?? [])]);
    } catch (error) {
      onFaults(faultsOf(error, "try again"));
    }
  };
  return (
    <>
      <div className="flex items-baseline justify-between">
        <h3 className="font-semibold">Rangefinder</h3>
        <button type="button" className="button px-3" disabled={!open.canLog} onClick={() => void simulate()}>
          Take a reading (simulated)
        </button>
      </div>
      <ul aria-label="Readings" className="max-h-28 overflow-y-auto">
        {readings.data?.slice(0, 6).map((one) => (
          <li key={one.id} className="flex items-center justify-between gap-2 border-b border-line">
            <span className="font-label">
              {clock(one.time)} {one.instrument}: <b>{one.reading.distance_m.toFixed(2)} m</b>,{" "}
              {one.reading.inclination_deg.toFixed(1)}° up, bearing {one.reading.bearing_deg.toFixed(0)}°
            </span>
            <button
              type="button"
              className="button px-3"
              disabled={!open.canEdit}
              onClick={() => onPlace(one.reading)}
              aria-label={`Place the reading of ${one.reading.distance_m.toFixed(2)} m`}
            >
              Place
            </button>
          </li>
        ))}
        {readings.data?.length ? null : (
          <li className="font-label text-quiet">
            No readings yet. An instrument on the team&apos;s network can send its own.
          </li>
        )}
      </ul>
    </>
  );
}
