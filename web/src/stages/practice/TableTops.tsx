/** Table-tops: those that were played, and a new one. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { TableTopRow, Team } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { day } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { Since } from "../../ui/Since";
import { Wrong } from "../../ui/Wrong";

const PACES = [
  { id: "1", name: "1×, as it would be" },
  { id: "2", name: "2×" },
  { id: "5", name: "5×" },
  { id: "10", name: "10×, an hour in six minutes" },
];

export function TableTops({ team }: { team: Team }) {
  const [begins, begin] = useState(false);
  const found = useQuery({
    queryKey: ["table-tops", team.id],
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/table-tops", { params: { path: { team_id: team.id } } })),
  });
  return (
    <section aria-label="Table-tops" className="mt-5">
      <div className="flex flex-wrap items-end gap-3 border-b-2 border-ink pb-1">
        <h2 className="mr-auto font-semibold">Table-top: a rescue played by the clock</h2>
        {team.role === "leader" ? (
          <button type="button" className="button" onClick={() => begin(true)}>
            New table-top
          </button>
        ) : null}
      </div>
      {found.data?.length === 0 ? (
        <p className="py-2 text-body text-quiet">
          None yet. One is played on a plan of the team: its ground, people and ropes as they are, and things that
          happen.
        </p>
      ) : null}
      <ul>
        {(found.data ?? []).map((one) => (
          <li key={one.plan} className="border-b border-line">
            <Link
              to={`/plans/${one.plan}/${one.ended ? "debrief" : "run"}`}
              className="flex min-h-14 items-center gap-3 py-1 hover:bg-film"
            >
              <span className="min-w-0 flex-1">
                <span className="block text-answer font-semibold">{one.title}</span>
                <span className="block font-label text-quiet">
                  {one.made_by}, {day(one.begun_at)}
                  {one.rigged ? ", on real ropes" : ""}
                </span>
              </span>
              <span className="text-right font-label">{standsText(one)}</span>
            </Link>
          </li>
        ))}
      </ul>
      {begins ? <NewTableTop team={team} onClose={() => begin(false)} /> : null}
    </section>
  );
}

function standsText(one: TableTopRow): string {
  const happened = `${one.happened} happened, ${one.missed ? `◆ ${one.missed} missed` : "none missed"}`;
  return one.ended ? happened : "going on";
}

function NewTableTop({ team, onClose }: { team: Team; onClose: () => void }) {
  const navigate = useNavigate();
  const [plan, setPlan] = useState<string | null>(null);
  const [pace, setPace] = useState("5");
  const [rigged, setRigged] = useState(false);
  const [id] = useState(newId);
  const [sending, send] = useState(false);
  const [wrong, setWrong] = useState<unknown>(null);
  const plans = useQuery({ queryKey: ["plans"], queryFn: async () => answered(await api.GET("/api/plans")) });
  const mine = (plans.data ?? []).filter((one) => one.team.id === team.id && one.stands !== "anchors");
  const begin = async () => {
    if (!plan) return;
    send(true);
    try {
      const body = { id, plan, pace: Number(pace) as 1, rigged, begins: "" };
      const made = answered(
        await api.POST("/api/teams/{team_id}/table-tops", { params: { path: { team_id: team.id } }, body }),
      );
      void navigate(`/plans/${made.plan}/run`);
    } catch (error) {
      setWrong(error);
      send(false);
    }
  };
  return (
    <Sheet title="New table-top" onClose={onClose} wide>
      <p className="text-body">
        A copy of the plan is played: nothing of it touches the plan, its log, gear or readings. Six things happen, when
        they do is left to chance; each is called out, and what is done about it is logged as in a run.
      </p>
      <div className="mt-3 grid gap-3">
        <Choice
          label="Which plan"
          none="choose"
          value={plan}
          options={mine.map((one) => ({ id: one.id, name: one.title }))}
          onChange={setPlan}
        />
        {rigged ? null : (
          <Choice
            label="How fast its clock goes"
            value={pace}
            options={PACES}
            onChange={(one) => setPace(one ?? "5")}
          />
        )}
        <label className="flex min-h-12 items-center gap-3 text-answer">
          <input
            type="checkbox"
            className="size-6 accent-ink"
            checked={rigged}
            onChange={(event) => setRigged(event.target.checked)}
          />
          <span>
            Rigged on real ropes, by a real clock.{" "}
            <span className="font-label text-quiet">What its steps take counts among the team&apos;s own minutes.</span>
          </span>
        </label>
      </div>
      {wrong ? <Wrong>{wrongOf(wrong)}</Wrong> : null}
      <button
        type="button"
        className="button button-main mt-3 min-h-14 w-full text-head"
        disabled={!plan || sending}
        onClick={() => void begin()}
      >
        {sending ? <Since>Composing it.</Since> : "Begin"}
      </button>
    </Sheet>
  );
}
