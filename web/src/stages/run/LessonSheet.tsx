/** Friction and weight learnt from the readings of this run: before, after, what it changes; taken over into the plan as one decision. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Lesson } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { wrongOf } from "../../ui/faults";
import { unitOf } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { Wrong } from "../../ui/Wrong";
import type { LiveRun } from "./useRun";

/** Narrower than this is worth a word. */
const SHARPER = 1.05;

export function LessonSheet({
  plan,
  live,
  leads,
  onClose,
}: {
  plan: string;
  live: LiveRun;
  leads: boolean;
  onClose: () => void;
}) {
  const queries = useQueryClient();
  const [settings] = useSettings();
  const path = { params: { path: { plan_id: plan } } };
  const lesson = useQuery({
    queryKey: ["learnt", plan, live.run?.version],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/learnt", path)),
    retry: false,
    staleTime: 0,
  });
  const take = useMutation({
    mutationFn: async (found: Lesson) => {
      const { latest } = answered(await api.GET("/api/plans/{plan_id}", path));
      const document = { ...latest.document, found: found.found };
      const body = { base: latest.number, id: newId(), document };
      const saved = answered(await api.PUT("/api/plans/{plan_id}", { ...path, body }));
      live.put({
        type: "entry",
        entry: {
          kind: "decision",
          decision: `Friction learnt from readings taken over: ${changes(found)}`,
          reason: `${found.stretches} steady stretches of readings in this run`,
          considered: "leaving the catalogue's ranges",
          corrects: null,
          revision: saved.number,
          step: live.run?.at ?? "",
        },
      });
    },
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["run", plan] });
      onClose();
    },
  });
  const fault = lesson.error ?? take.error;
  const { name: unit, si } = unitOf("N", settings);
  const force = (range: Lesson["forces"][number]["before"]) =>
    `${(range.low / si).toFixed(2)} to ${(range.high / si).toFixed(2)} ${unit}`;
  return (
    <Sheet title="Learnt from the readings" onClose={onClose} wide>
      {fault ? (
        <Wrong className="text-answer">{wrongOf(fault, "No connection: the readings are on the server.")}</Wrong>
      ) : null}
      {lesson.data ? (
        <>
          <table className="w-full text-answer" data-testid="lesson">
            <thead>
              <tr className="text-left font-label text-quiet">
                <th className="py-1 pr-3 font-normal">what</th>
                <th className="py-1 pr-3 font-normal">before</th>
                <th className="py-1 pr-3 font-normal">after</th>
                <th className="py-1 font-normal">range</th>
              </tr>
            </thead>
            <tbody>
              {lesson.data.forces.map((one) => (
                <tr key={one.name} className="border-t border-line align-top">
                  <th className="py-1.5 pr-3 text-left font-semibold first-letter:uppercase">{one.name}</th>
                  <td className="py-1.5 pr-3">
                    {force(one.before)}
                    <Haulers rows={one.people_before} />
                  </td>
                  <td className="py-1.5 pr-3 font-semibold">
                    {force(one.after)}
                    <Haulers rows={one.people_after} />
                  </td>
                  <td className="py-1.5">
                    {narrower(Math.log(one.before.high / one.before.low) / Math.log(one.after.high / one.after.low))}
                  </td>
                </tr>
              ))}
              {lesson.data.values.map((one) => (
                <tr key={one.name + one.symbol} className="border-t border-line align-top">
                  <th className="py-1.5 pr-3 text-left font-normal">
                    {one.name} <span className="text-quiet">{one.symbol}</span>
                  </th>
                  <td className="py-1.5 pr-3">{spread(one.before)}</td>
                  <td className="py-1.5 pr-3">{one.sharper < SHARPER ? "" : spread(one.after)}</td>
                  <td className="py-1.5">{narrower(one.sharper)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {lesson.data.together.map((one) => (
            <p key={one} className="mt-2 text-body leading-snug">
              ◇ {one}
            </p>
          ))}
          <p className="mt-2 text-body leading-snug text-quiet">
            From {lesson.data.stretches} steady stretches. Each range is to hold nine times in ten; it begins from the
            catalogue&apos;s. It holds for this rope, these edges and what lies over them today.
          </p>
          {leads ? (
            <button
              type="button"
              className="button button-main mt-3"
              disabled={take.isPending || !lesson.data.found.length}
              onClick={() => take.mutate(lesson.data)}
            >
              Take it over into the plan
            </button>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}

function Haulers({ rows }: { rows: number[] }) {
  if (!rows.length) return null;
  const [low, high] = rows;
  return (
    <span className="block font-label font-normal text-quiet">{low === high ? low : `${low} to ${high}`} to pull</span>
  );
}

function spread(range: Lesson["values"][number]["before"]): string {
  const figure = (value: number) =>
    value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2);
  return `${figure(range.low)} to ${figure(range.high)}`;
}

function narrower(times: number): string {
  return times < SHARPER ? "as before" : `${times.toFixed(1)} times narrower`;
}

/** In the trade's words, for the log. */
function changes(lesson: Lesson): string {
  return lesson.values
    .filter((one) => one.sharper >= SHARPER)
    .map((one) => `${one.name} ${one.symbol} ${spread(one.before)} → ${spread(one.after)}`)
    .join("; ");
}
