/** Placing features: by tape and compass, by coordinates, by a rangefinder, and from and to files. */
import { useState } from "react";
import { answered, api } from "../../device/client";
import type { Catalogue, Fault, Feature, GroundOffer, Place3, Reading } from "../../api/types";
import { mainAnchor, taken } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { faultsOf } from "../../ui/faults";
import { FaultContext } from "../../ui/faultContext";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { FileButton } from "../../ui/FileButton";
import { OneOf } from "../../ui/OneOf";
import { FileSheet } from "./FileSheet";
import { NORTHS, OnTheMap } from "./OnTheMap";
import { Rangefinder } from "./Rangefinder";
import type { AnchorEdits } from "./useAnchorEdits";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  edits: AnchorEdits;
  onPlaced: (id: string) => void;
}

type Form = "csv" | "geojson" | "gpx" | "kml";
type North = "magnetic" | "true";
const FORMS: { id: Form; name: string }[] = [
  { id: "csv", name: "CSV" },
  { id: "geojson", name: "GeoJSON" },
  { id: "gpx", name: "GPX" },
  { id: "kml", name: "KML" },
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
  const [file, setFile] = useState<File | string | null>(null);
  const [pasted, setPasted] = useState("");
  const [north, setNorth] = useState<North | null>(null);
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
  const from = north ?? frame?.north ?? null;
  const add = (place: Place3, called: string, questions: string[], placed: Feature["placed"]) => {
    const id = edits.newFeatureId();
    const feature: Feature = {
      id,
      name: called,
      kind: kind ?? "other",
      ...place,
      x_m: place.x_m ?? 0,
      placed,
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
  const placed = (reading: Reading | Record<string, unknown>, by: "tape" | "rangefinder") =>
    attempt(async () => {
      const measured = { ...reading, north: reading.north ?? from } as Reading;
      const found = answered(await api.POST("/api/survey/place", { body: { measured, frame, held_at: held } }));
      add(found.place, called, found.doubts, {
        by,
        off_m: catalogue.placings[by]?.off_m ?? 0,
        off_up_m: catalogue.placings[by]?.off_up_m ?? 0,
      });
    });
  const taped = () => {
    const missing = Object.entries(measured).filter(([, value]) => value === null);
    if (missing.length)
      return setFaults(missing.map(([path]) => ({ path, problem: "not measured yet", right: "give it" })));
    return placed(measured, "tape");
  };
  const typed = () => {
    const missing = Object.entries(given).filter(([, value]) => value === null);
    if (missing.length)
      return setFaults(
        missing.map(([path]) => ({ path, problem: "not given yet", right: "give metres from the working point" })),
      );
    setFaults([]);
    return add(given as Place3, called, [], null);
  };
  const read = (chosen: File) => {
    setFaults([]);
    setDoubts([]);
    setFile(chosen);
  };
  const takeFeatures = (found: Feature[], name: string) => {
    edits.addFeatures(found);
    setDoubts([`${found.length} taken from ${name}: ${found.map((one) => one.name).join(", ")}. Inspect each.`]);
    setFile(null);
  };
  const takeGround = (ground: GroundOffer) => {
    open.edit((old) => ({ ...old, site: { ...old.site, profile: ground.profile } }));
    setDoubts([
      `The ground from the side is now ${ground.name}, ${ground.profile.length} points to within ${ground.thin_m} m. Look at edges and where the load lies.`,
    ]);
    setFile(null);
  };
  const write = (format: Form) =>
    attempt(async () => {
      const file = answered(
        await api.POST("/api/survey/write", { body: { format, document, with_mark: format === "csv" } }),
      );
      const link = window.document.createElement("a");
      link.href = URL.createObjectURL(new Blob([file.text]));
      link.download = file.name;
      link.click();
      URL.revokeObjectURL(link.href);
    });
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
          <div className="mt-1 flex flex-wrap items-center gap-2">
            <span className="font-label text-quiet">Bearings are from north, as</span>
            <OneOf
              label="Bearings from which north"
              value={(from ?? "") as North}
              options={NORTHS}
              onChange={setNorth}
            />
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
          <Rangefinder open={open} onPlace={(reading) => void placed(reading, "rangefinder")} onFaults={setFaults} />
          <h3 className="mt-2 font-semibold">Files</h3>
          <div className="flex flex-wrap gap-2">
            <FileButton
              label="Features file"
              accept=".csv,.tsv,.txt,.xlsx,.geojson,.json,.gpx,.kml,.kmz,.jpg,.jpeg,image/*"
              className="font-semibold"
              disabled={off}
              onFile={read}
            >
              Read a file
            </FileButton>
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
          <form
            className="mt-2 flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (pasted.trim()) setFile(pasted);
            }}
          >
            <textarea
              className="field h-11 min-w-0 flex-1 py-2"
              aria-label="Lines of a table or a rangefinder"
              placeholder="Paste lines of a table or a rangefinder"
              value={pasted}
              disabled={off}
              onChange={(event) => setPasted(event.target.value)}
            />
            <button type="submit" className="button px-3" disabled={off || !pasted.trim()}>
              Read them
            </button>
          </form>
          <OnTheMap open={open} />
        </section>
        {unplaced.length || doubts.length ? (
          <div
            role="alert"
            aria-label="Survey faults"
            className="border-l-4 border-over bg-tint px-3 py-1.5 lg:col-span-2"
          >
            <ul>
              {unplaced.map((fault) => (
                <li key={fault.path + fault.problem}>
                  <b className="text-over">◆ {fault.path}</b>: {fault.problem}; {fault.right}. Nothing was taken,
                  nothing is lost.
                </li>
              ))}
              {doubts.map((doubt) => (
                <li key={doubt}>◇ {doubt}</li>
              ))}
            </ul>
          </div>
        ) : null}
        {file ? (
          <FileSheet
            open={open}
            from={file}
            onFeatures={takeFeatures}
            onGround={takeGround}
            onClose={() => setFile(null)}
          />
        ) : null}
      </div>
    </FaultContext>
  );
}
