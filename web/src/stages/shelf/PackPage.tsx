/** A plan's gear against the shelf: there, short, due, out elsewhere; packed by who carries it, counted out and back by phone. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { Document, OwnRange as Range, PackingRow, Plan } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { wrongOf } from "../../ui/faults";
import { Wrong } from "../../ui/Wrong";
import { OwnRange } from "./OwnRange";
import { packs } from "./packed";
import { usePacking, usePulls } from "./useShelf";

type Taken = PackingRow["taken"][number];
const left = (one: Taken) => one.count - one.out;

export function PackPage() {
  const { id = "" } = useParams();
  const { packing, failed, count, busy, wrong } = usePacking(id);
  const plan = useQuery({
    queryKey: ["plan", id],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })),
  });
  useEffect(() => packs(id), [id]);
  if (!packing)
    return <main className="p-8 text-answer">{failed ? `◆ ${wrongOf(failed, "No connection.")}` : "Opening."}</main>;
  const order = [...packing.rows].sort((one, two) => rank(one) - rank(two));
  const due = packing.rows.flatMap((row) => row.taken).filter((one) => one.is_due).length;
  const unwanted = packing.out.filter((one) => !one.wanted);
  const toGo = (taken: Taken[]) =>
    taken.filter((one) => left(one)).map((one) => ({ label: one.label, count: left(one) }));
  return (
    <main tabIndex={-1} className="mx-auto max-w-4xl p-4 pb-10">
      <header className="flex flex-wrap items-center gap-2 border-b-2 border-ink pb-3">
        <Link to={`/plans/${id}/lines`} className="button flex items-center px-3" aria-label="The plan">
          ‹
        </Link>
        <div className="mr-auto min-w-0 leading-tight">
          <h1 className="text-loud font-semibold">Packing</h1>
          <p className="font-label text-quiet">{packing.title}</p>
        </div>
        {plan.data ? (
          <Link to={`/shelf/${plan.data.team.id}`} className="button flex items-center">
            Shelf
          </Link>
        ) : null}
      </header>
      <p className="mt-3 text-loud font-semibold" data-testid="packing-said">
        {packing.short ? <span className="text-over">◆ {packing.short} short</span> : "■ All of it is there"}
        {due ? <span className="text-over">, ◇ {due} due</span> : ""}
      </p>
      {wrong ? <Wrong className="mt-2">{wrong}</Wrong> : null}
      <section aria-label="What the plan takes" className="mt-3">
        <ul>
          {order.map((row, at) => (
            <li key={`${row.table} ${row.kind} ${at}`} className="border-b border-line py-2" data-row={row.kind}>
              <p className="leading-snug">
                <b aria-hidden className={row.short ? "text-over" : ""}>
                  {row.short ? "◆" : row.taken.some((one) => one.is_due) ? "◇" : "■"}
                </b>{" "}
                <b>
                  {row.count > 1 ? `${row.count} × ` : ""}
                  {row.name}
                  {row.length_m ? `, ${metres(row.length_m)} m or more` : ""}
                </b>
                {row.short ? <span className="text-over"> {row.short} short</span> : null}
              </p>
              {[...row.elsewhere, ...row.retired.map((one) => `${one} (retired)`)].map((text) => (
                <p key={text} className="text-quiet">
                  {text}
                </p>
              ))}
              {row.taken.map((one) => (
                <Piece key={one.label} one={one} writes={packing.writes} busy={busy} onCount={count} />
              ))}
            </li>
          ))}
        </ul>
      </section>
      {packing.carriers.length ? (
        <section aria-label="Who carries what" className="mt-5">
          <h2 className="border-b-2 border-ink pb-1 font-semibold">Who carries what</h2>
          <ul>
            {packing.carriers.map((one) => {
              const mine = packing.rows.flatMap((row) => row.taken).filter((taken) => taken.goes_with === one.who);
              const going = toGo(mine);
              return (
                <li key={one.who} className="flex flex-wrap items-center gap-x-4 border-b border-line py-1.5">
                  <b className="min-w-24">{one.who}</b>
                  <span className="mr-auto">
                    {one.pieces} {one.pieces === 1 ? "piece" : "pieces"}, {one.mass_kg.toFixed(1)} kg
                    {one.unweighed ? ` and ${one.unweighed} that nobody weighed` : ""}
                  </span>
                  {packing.writes && going.length ? (
                    <button
                      type="button"
                      className="button"
                      disabled={busy}
                      aria-label={`All out: ${one.who}`}
                      onClick={() => void count(going, true)}
                    >
                      All out
                    </button>
                  ) : null}
                </li>
              );
            })}
          </ul>
        </section>
      ) : null}
      {packing.out.length ? (
        <section aria-label="Out now" className="mt-5">
          <div className="flex flex-wrap items-center border-b-2 border-ink">
            <h2 className="mr-auto font-semibold">{packing.out.reduce((sum, one) => sum + one.count, 0)} out now</h2>
            {packing.writes ? (
              <button
                type="button"
                className="button my-1"
                disabled={busy}
                onClick={() => void count(packing.out, false)}
              >
                All back
              </button>
            ) : null}
          </div>
          <ul>
            {unwanted.map((one) => (
              <li key={one.label} className="flex min-h-11 flex-wrap items-center gap-x-3 border-b border-line">
                <b className="min-w-16">{one.label}</b>
                <span className="mr-auto">
                  {one.count > 1 ? `${one.count} × ` : ""}
                  {one.name}: the plan does not take it
                </span>
                {packing.writes ? (
                  <button type="button" className="button" disabled={busy} onClick={() => void count([one], false)}>
                    Back
                  </button>
                ) : null}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {plan.data ? <ByOwnPulls plan={plan.data} /> : null}
    </main>
  );
}

const rank = (row: PackingRow) => (row.short ? 0 : row.taken.some((one) => one.is_due) ? 1 : 2);
/** Rounded up: a piece of so many metres reaches. */
const metres = (long: number) => (Math.ceil(long * 10 - 1e-6) / 10).toString();

interface PieceProps {
  one: Taken;
  writes: boolean;
  busy: boolean;
  onCount: (pieces: { label: string; count: number }[], out: boolean) => Promise<void>;
}

function Piece({ one, writes, busy, onCount }: PieceProps) {
  const going = left(one);
  const said = [one.bag, one.carried_by, one.mass_kg ? `${one.mass_kg} kg` : "", one.is_due ? "◇ due" : ""];
  return (
    <div className="grid grid-cols-[3.5rem_minmax(0,1fr)_auto] items-center gap-x-3" data-taken={one.label}>
      <b className="tabular-nums">{one.label}</b>
      <span className="leading-snug">
        {one.count > 1 ? `${one.count} of it · ` : ""}
        {said.filter(Boolean).join(" · ")}
      </span>
      {writes ? (
        <button
          type="button"
          className={`button my-0.5 min-w-20 ${going ? "" : "button-main"}`}
          disabled={busy}
          aria-label={going ? `${one.label} out` : `${one.label} back`}
          onClick={() => void onCount([{ label: one.label, count: going || one.out }], Boolean(going))}
        >
          {going ? "Out" : "■ Back"}
        </button>
      ) : null}
    </div>
  );
}

/** The team's own ranges: which of them this plan goes by, taken over or given up by its leader. */
function ByOwnPulls({ plan }: { plan: Plan }) {
  const { pulls } = usePulls(plan.team.id);
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<string | null>(null);
  const tested = pulls?.ranges.filter((one) => one.tested) ?? [];
  if (!tested.length) return null;
  const taken = plan.latest.document.tested ?? [];
  const put = async (next: Document["tested"]) => {
    const path = { params: { path: { plan_id: plan.id } } };
    try {
      const body = { id: newId(), base: plan.latest.number, tested: next };
      answered(await api.PUT("/api/plans/{plan_id}/tested", { ...path, body }));
      setWrong(null);
    } catch (error) {
      setWrong(wrongOf(error));
    }
    await Promise.all([["plan", plan.id], ["plans"]].map((key) => queries.invalidateQueries({ queryKey: key })));
  };
  const is = (one: Range) => taken.some((other) => JSON.stringify(other) === JSON.stringify(one.tested));
  const without = (one: Range) =>
    taken.filter((other) => !(same(other, one.tested!) && other.gives === one.tested!.gives));
  return (
    <section aria-label="By our own pulls" className="mt-5">
      <h2 className="border-b-2 border-ink pb-1 font-semibold">By our own pulls</h2>
      {wrong ? <Wrong className="mt-2">{wrong}</Wrong> : null}
      <ul>
        {tested.map((one) => (
          <OwnRange key={one.name + one.gives} one={one}>
            {plan.team.role === "leader" ? (
              <button
                type="button"
                className={`button mt-1 ${is(one) ? "button-main" : ""}`}
                onClick={() => void put(is(one) ? without(one) : [...without(one), one.tested!])}
              >
                {is(one) ? "■ This plan goes by ours: give it up" : "Go by ours in this plan"}
              </button>
            ) : null}
          </OwnRange>
        ))}
      </ul>
    </section>
  );
}

type Tested = NonNullable<Document["tested"]>[number];
const AS_TIED = ["of", "kind", "rope", "ropes", "cord", "wraps", "pulled", "state", "glazed"] as const;
const same = (one: Tested, two: Tested) => AS_TIED.every((name) => (one[name] ?? null) === (two[name] ?? null));
