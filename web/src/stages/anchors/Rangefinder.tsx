/** Readings that an instrument sent, newest first; a simulated one stands in where there is none. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { Fault, Reading, ReadingOut } from "../../api/types";
import { answered, api } from "../../device/client";
import type { OpenPlan } from "../../plan/usePlan";
import { faultsOf } from "../../ui/faults";
import { clock } from "../../ui/format";

interface Props {
  open: OpenPlan;
  onPlace: (reading: Reading) => void;
  onFaults: (faults: Fault[]) => void;
}

export function Rangefinder({ open, onPlace, onFaults }: Props) {
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
              {one.reading.north ? ` ${one.reading.north}` : ""}
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
