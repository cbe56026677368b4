/** Where the sheet lies in the world: the fall line's bearing and from which north, the working point's place, how high and by what. */
import { useState } from "react";
import type { Document } from "../../api/types";
import { answered, api } from "../../device/client";
import type { OpenPlan } from "../../plan/usePlan";
import { wrongOf } from "../../ui/faults";
import { Choice, NumberField } from "../../ui/fields";
import { OneOf } from "../../ui/OneOf";
import { Wrong } from "../../ui/Wrong";

type Frame = NonNullable<Document["site"]["frame"]>;
type North = "magnetic" | "true";

export const NORTHS: { id: North; name: string }[] = [
  { id: "magnetic", name: "magnetic" },
  { id: "true", name: "true" },
];
const READ_FROM = [
  { id: "map", name: "Map" },
  { id: "barometer", name: "Barometer" },
  { id: "phone", name: "Phone or receiver" },
  { id: "instrument", name: "Survey instrument" },
];

export function OnTheMap({ open }: { open: OpenPlan }) {
  const [told, setTold] = useState("");
  const [wrong, setWrong] = useState<unknown>(null);
  const frame = open.document.site.frame ?? null;
  const off = !open.canEdit;
  const set = (change: Partial<Frame>) =>
    open.edit((old) =>
      old.site.frame ? { ...old, site: { ...old.site, frame: { ...old.site.frame, ...change } } } : old,
    );
  const bearing = (value: number | null) =>
    open.edit((old) => ({
      ...old,
      site: { ...old.site, frame: value === null ? null : { ...old.site.frame, bearing_deg: value } },
    }));
  const { latitude_deg, longitude_deg } = frame ?? {};
  const lookUp = async () => {
    if (latitude_deg == null || longitude_deg == null) return;
    setWrong(null);
    try {
      const body = { latitude_deg, longitude_deg, elevation_m: frame?.elevation_m ?? 0 };
      const found = answered(await api.POST("/api/survey/declination", { body }));
      set({ declination_deg: found.declination_deg });
      setTold(
        `${found.model} for today: magnetic north ${Math.abs(found.declination_deg).toFixed(1)}° ${found.declination_deg < 0 ? "west" : "east"} of true, to within ${found.plus_minus_deg.toFixed(1)}°${found.doubtful ? "; near a magnetic pole a compass says little" : ""}.`,
      );
    } catch (error) {
      setWrong(error);
    }
  };
  return (
    <>
      <h3 className="mt-2 font-semibold">The sheet on the map</h3>
      <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-3">
        <NumberField
          label="Fall line"
          unit="°"
          optional
          path="site.frame"
          value={frame?.bearing_deg ?? null}
          disabled={off}
          onChange={bearing}
        />
        <div className={off || !frame ? "pointer-events-none opacity-50" : ""}>
          <span className="font-label text-quiet">Taken from north, as</span>
          <OneOf
            label="Taken from which north"
            value={(frame?.north ?? "") as North}
            options={NORTHS}
            onChange={(north) => set({ north })}
          />
        </div>
        <NumberField
          label="Declination, east"
          unit="°"
          optional
          path="site.frame.declination_deg"
          value={frame?.declination_deg ?? null}
          disabled={off || !frame}
          onChange={(declination_deg) => set({ declination_deg })}
        />
        <NumberField
          label="Latitude"
          unit="°"
          optional
          value={latitude_deg ?? null}
          disabled={off || !frame}
          onChange={(value) => set({ latitude_deg: value })}
        />
        <NumberField
          label="Longitude"
          unit="°"
          optional
          value={longitude_deg ?? null}
          disabled={off || !frame}
          onChange={(value) => set({ longitude_deg: value })}
        />
        <button
          type="button"
          className="button px-3"
          disabled={off || latitude_deg == null || longitude_deg == null}
          onClick={() => void lookUp()}
        >
          Look up the declination
        </button>
        <NumberField
          label="Elevation"
          unit="m"
          optional
          value={frame?.elevation_m ?? null}
          disabled={off || !frame}
          onChange={(elevation_m) => set({ elevation_m })}
        />
        <Choice
          label="Read from"
          value={frame?.elevation_by ?? null}
          options={READ_FROM}
          none="Not said"
          disabled={off || !frame}
          onChange={(by) => set({ elevation_by: by as Frame["elevation_by"] })}
        />
      </div>
      {told ? <p className="mt-1">{told}</p> : null}
      {wrong ? <Wrong>{wrongOf(wrong)}</Wrong> : null}
    </>
  );
}
