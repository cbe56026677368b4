/** The plans, each with a small drawing of it and where it stands; a hundred of them read well. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { PlanRow } from "../../api/types";
import { clock, day } from "../../ui/format";
import { PlanSketch } from "./PlanSketch";
import { NotReached } from "../../ui/NotReached";

/** In the order of the work. */
const STANDS: Record<PlanRow["stands"], string> = {
  anchors: "anchors",
  lines: "lines",
  checked: "check signed in part",
  going: "run going",
  stopped: "◆ STOPPED",
  ended: "run ended",
};
/** Where a plan is opened that stands so. */
const OPENS: Record<PlanRow["stands"], string> = {
  anchors: "anchors",
  lines: "lines",
  checked: "check",
  going: "run",
  stopped: "run",
  ended: "debrief",
};
/** More than so many are searched. */
const FEW = 6;

export function PlanRows({ plans }: { plans: PlanRow[] }) {
  const [words, search] = useState("");
  const [archive, showArchive] = useState(false);
  const put = plans.filter((one) => one.archived).length;
  const fits = (one: PlanRow) =>
    words
      .toLowerCase()
      .split(/\s+/)
      .every((word) => `${one.title} ${one.place} ${one.team.name} ${STANDS[one.stands]}`.toLowerCase().includes(word));
  const rows = plans.filter((one) => one.archived === archive && fits(one));
  return (
    <>
      {plans.length > FEW || put ? (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          {plans.length > FEW ? (
            <label className="flex min-w-60 flex-1 items-center gap-2">
              <span className="font-label">Search</span>
              <input
                type="search"
                className="field"
                value={words}
                maxLength={100}
                onChange={(event) => search(event.target.value)}
              />
            </label>
          ) : null}
          <p role="status" className="font-label text-quiet">
            {rows.length} of {plans.length}
          </p>
          {put ? (
            <button type="button" className="button" aria-pressed={archive} onClick={() => showArchive(!archive)}>
              {archive ? "Plans in use" : `Archive, ${put}`}
            </button>
          ) : null}
        </div>
      ) : null}
      <ul className="mt-2" aria-label={archive ? "Archive" : "Plans in use"}>
        {rows.map((plan) => (
          <Row key={plan.id} plan={plan} />
        ))}
      </ul>
    </>
  );
}

function Row({ plan }: { plan: PlanRow }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [failed, fail] = useState(false);
  const leads = plan.team.role === "leader";
  const loud = plan.stands === "stopped";
  const archive = async () => {
    const params = { path: { plan_id: plan.id } };
    answered(await api.PUT("/api/plans/{plan_id}/archived", { params, body: { archived: !plan.archived } }));
    await queries.invalidateQueries({ queryKey: ["plans"] });
  };
  const copy = async () => {
    const old = answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: plan.id } } }));
    const document = { ...old.latest.document, title: `${plan.title}, copy`.slice(0, 200) };
    const made = answered(await api.POST("/api/plans", { body: { team: plan.team.id, id: newId(), document } }));
    await queries.invalidateQueries({ queryKey: ["plans"] });
    void go(`/plans/${made.id}/lines`);
  };
  const doing = (what: () => Promise<void>) => () => {
    fail(false);
    what().catch(() => fail(true));
  };
  return (
    <li className="flex items-center gap-3 border-b border-line py-1 narrow:flex-wrap" data-plan={plan.id}>
      <Link
        to={`/plans/${plan.id}/lines`}
        className="grid min-w-0 flex-1 grid-cols-[7rem_minmax(0,1fr)] items-center gap-x-4 hover:bg-sheet narrow:basis-full narrow:grid-cols-[4.5rem_minmax(0,1fr)]"
      >
        <PlanSketch sketch={plan.sketch} />
        <span className="min-w-0 leading-tight">
          <span className="block text-answer font-semibold">{plan.title}</span>
          <span className="block font-label text-quiet">
            {plan.place ? `${plan.place}. ` : ""}
            {plan.team.name}, you are {plan.team.role}. Revision {plan.revision}, {day(plan.saved_at)},{" "}
            {clock(plan.saved_at)}, {plan.log_entries} in the log
          </span>
        </span>
      </Link>
      <Link
        to={`/plans/${plan.id}/${OPENS[plan.stands]}`}
        className={`flex min-h-11 w-40 flex-col justify-center leading-tight hover:bg-sheet narrow:w-auto narrow:flex-1 ${loud ? "font-semibold text-over" : ""}`}
      >
        {STANDS[plan.stands]}
        {plan.here.length ? <span className="font-label text-note text-quiet">{plan.here.join(", ")}</span> : null}
      </Link>
      {leads ? (
        <>
          <button type="button" className="button px-3" aria-label={`Copy ${plan.title}`} onClick={doing(copy)}>
            Copy
          </button>
          <button
            type="button"
            className="button px-3"
            aria-label={`${plan.archived ? "Take back" : "Archive"} ${plan.title}`}
            onClick={doing(archive)}
          >
            {plan.archived ? "Take back" : "Archive"}
          </button>
        </>
      ) : null}
      {failed ? <NotReached /> : null}
    </li>
  );
}
