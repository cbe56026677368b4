/** Debrief: the run gone through again; at each moment the rig as it stood, what was read, what was written; lessons. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { CellReadings, Entry, Session, Step } from "../../api/types";
import { answered, api } from "../../device/client";
import { LogSheet } from "../../plan/LogSheet";
import { useSettings } from "../../ui/settings";
import { wrongOf } from "../../ui/faults";
import { FileButton } from "../../ui/FileButton";
import { authorOf } from "../../plan/author";
import { clock, minutes, unitOf } from "../../ui/format";
import { RigNow } from "../../drawing/RigNow";
import { Timeline } from "./Timeline";
import { AfterFrame } from "./AfterFrame";
import { summary } from "./GearPage";
import { Lessons } from "./Lessons";
import { Score } from "./Score";
import { useDebrief, type Whole } from "./useDebrief";
import { useGear } from "./useGear";

/** Written so shortly before the moment that is looked at. */
const NEAR_MS = 120_000;
/** A reading older than this says nothing of the moment. */
const STALE_MS = 10_000;
const MOST_REASONS = 5;
const AFTER_MS = 500;

export function DebriefPage({ session }: { session: Session }) {
  const { id = "" } = useParams();
  const { whole, fault } = useDebrief(id);
  return (
    <AfterFrame plan={id} here="debrief" title="Debrief">
      {whole ? (
        <Gone plan={id} whole={whole} session={session} />
      ) : (
        <main className="p-8 text-answer">{fault ? `◆ ${wrongOf(fault)}` : "Opening."}</main>
      )}
    </AfterFrame>
  );
}

function Gone({ plan, whole, session }: { plan: string; whole: Whole; session: Session }) {
  const { debrief, entries, from, to } = whole;
  const [at, setAt] = useState(from);
  const [table, setTable] = useState<File | null>(null);
  const cells = useQuery({
    queryKey: ["cells", plan],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/cells", { params: { path: { plan_id: plan } } })),
    enabled: table !== null,
  });
  const played = typeof debrief.run.pace === "number";
  const step = stepAt(whole, at);
  const before = entries.filter((one) => Date.parse(one.time) <= at && Date.parse(one.time) > at - NEAR_MS).slice(-6);
  const alarms = entries.filter((one) => one.kind === "alarm").length;
  const stops = entries.filter((one) => one.kind === "stop" && one.decision === "STOP").length;
  return (
    <main tabIndex={-1} className="min-h-0 overflow-y-auto px-4 pt-2 pb-6">
      <div className="flex flex-wrap items-center gap-x-6">
        <p className="text-answer">
          {clock(debrief.run.begun_at)} to {clock(new Date(to).toISOString())}, {minutes(to - from)};{" "}
          {debrief.done.length} of {debrief.operation.steps.length} steps done, {stops} {stops === 1 ? "stop" : "stops"}
          , {alarms} {alarms === 1 ? "alarm" : "alarms"}.
        </p>
        {played ? null : (
          <>
            <FileButton
              label="Table of a logger"
              accept=".csv,.tsv,.txt,text/csv"
              className="ml-auto"
              onFile={setTable}
            >
              Read in a logger&apos;s table
            </FileButton>
            <a className="flex min-h-11 items-center underline" href={`/api/plans/${plan}/papers/run`} download>
              Run report, PDF
            </a>
          </>
        )}
        {table && cells.data ? (
          <LogSheet
            plan={plan}
            cells={cells.data}
            file={table}
            begun={debrief.run.begun_at}
            onClose={() => setTable(null)}
          />
        ) : null}
      </div>
      {played ? <Score plan={plan} /> : null}
      <Timeline whole={whole} at={at} onAt={setAt} />
      <h2 className="mt-1 flex flex-wrap items-baseline gap-x-3 text-head leading-tight font-semibold">
        <span className="font-label text-base font-normal text-quiet">
          {new Date(at).toLocaleTimeString([], { hour12: false })}
        </span>
        {step?.do ?? "Done"}
      </h2>
      {step ? <RigNow step={step} /> : null}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-6 roomy:grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)]">
        <section aria-label="The rig as it stood" data-testid="stood" data-key={step?.key ?? ""}>
          {step ? (
            <>
              <p className="mt-1 text-answer">
                {step.holds.grounded ? (
                  "The load is on the ground."
                ) : (
                  <>
                    Holds on <b>{step.holds.on_text.toLowerCase()}</b>; behind it{" "}
                    <b>{step.holds.behind_text.toLowerCase()}</b>; hands off:{" "}
                    <b>{step.holds.hands_off_text.toLowerCase()}</b>.
                  </>
                )}
              </p>
              <Read whole={whole} at={at} step={step.key} />
            </>
          ) : null}
        </section>
        <section aria-label="Written about then">
          <h2 className="mt-1 font-label text-quiet">Written in the two minutes before</h2>
          <ol data-testid="written">
            {before.map((one) => (
              <Written key={one.id} entry={one} />
            ))}
          </ol>
          <Lessons plan={plan} whole={whole} me={session.username} />
        </section>
      </div>
      <Changed whole={whole} onAt={setAt} />
      {played ? null : <GearLine plan={plan} />}
      <Planned whole={whole} onAt={setAt} />
    </main>
  );
}

/** What each cell read at a moment, beside what was worked out for the step then. */
function Read({ whole, at, step }: { whole: Whole; at: number; step: string }) {
  const [settings] = useSettings();
  const { name: unit, si } = unitOf("N", settings);
  const { cells } = whole.debrief;
  return cells.map((cell) => {
    const alone = cells.every((one) => one.id === cell.id || one.place_text !== cell.place_text);
    const force = readAt(cell.read, at);
    const band = cell.bands[step];
    return (
      <p key={cell.id} className="text-answer" data-testid="read">
        Read {alone ? "" : `by ${cell.name}, `}
        {cell.place_text}: <b>{force === null ? "nothing" : `${(force / si).toFixed(2)} ${unit}`}</b>
        {band ? `, ${(band.low / si).toFixed(2)} to ${(band.high / si).toFixed(2)} ${unit} worked out` : ""}.
      </p>
    );
  });
}

/** The reading nearest before a moment, where there is one within a few seconds. */
function readAt(read: CellReadings, at: number): number | null {
  let [low, high] = [0, read.times_ms.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (read.times_ms[middle]! <= at) low = middle + 1;
    else high = middle;
  }
  const time = read.times_ms[low - 1];
  return time !== undefined && at - time < STALE_MS ? read.forces_n[low - 1]! : null;
}

/** The step that was under way at a moment: the one after the last that was done by then. */
function stepAt(whole: Whole, at: number): Step | undefined {
  const { done, operation } = whole.debrief;
  const last = done.filter((one) => Date.parse(one.at) <= at).at(-1);
  const index = last ? operation.steps.findIndex((one) => one.key === last.key) + 1 : 0;
  return operation.steps[Math.min(index, operation.steps.length - 1)];
}

function Written({ entry }: { entry: Entry }) {
  return (
    <li className="py-0.5 text-body leading-snug">
      <span className="text-quiet">{clock(entry.time)}</span> <b>{authorOf(entry)}</b> {entry.decision}
      {entry.reason ? `, because ${entry.reason}` : ""}
    </li>
  );
}

/** What was changed of the plan while the run went, with its effect and why. */
function Changed({ whole, onAt }: { whole: Whole; onAt: (at: number) => void }) {
  const { changes } = whole.debrief;
  return (
    <section aria-label="Changed from the plan" className="mt-4">
      <h2 className="font-label text-quiet">Changed from the plan</h2>
      {changes.length ? null : <p className="text-body">Nothing: the run ended on the plan that it began on.</p>}
      <ol data-testid="changed">
        {changes.map((one) => (
          <li key={one.revision} className="flex gap-x-3 border-t border-line text-body leading-snug">
            <button
              type="button"
              className="min-h-11 self-start underline"
              onClick={() => onAt(Math.min(whole.to, Date.parse(one.at)))}
            >
              {clock(one.at)}
            </button>
            <p className="py-2">
              <b>{one.text}</b>
              {one.effects.length ? <span className="text-over"> ({one.effects.join("; ")})</span> : null}, {one.by},
              revision {one.revision}
              {one.why.length ? `, because ${one.why.slice(0, MOST_REASONS).join("; ")}` : ": no reason written"}
              {one.why.length > MOST_REASONS ? `; ${one.why.length - MOST_REASONS} more in the log` : ""}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}

function GearLine({ plan }: { plan: string }) {
  // Below the fold: asked when the rest is drawn.
  const [asked, ask] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => ask(true), AFTER_MS);
    return () => window.clearTimeout(timer);
  }, []);
  const gear = useGear(plan, asked);
  return gear.data ? (
    <p className="mt-3 text-body">
      <Link to={`/plans/${plan}/gear`} className="inline-flex min-h-11 items-center font-semibold underline">
        Gear
      </Link>
      : {summary(gear.data)}
    </p>
  ) : null;
}

/** Every step as it was planned, with when it was done and how long it took. */
function Planned({ whole, onAt }: { whole: Whole; onAt: (at: number) => void }) {
  const { debrief, from } = whole;
  const times = debrief.done.map((one) => Date.parse(one.at));
  return (
    <table className="mt-4 w-full text-body" data-testid="planned">
      <thead>
        <tr className="text-left font-label text-quiet">
          <th className="py-1 pr-3 font-normal">step planned</th>
          <th className="py-1 pr-3 font-normal">done</th>
          <th className="py-1 pr-3 font-normal">took</th>
          <th className="py-1 font-normal">by</th>
        </tr>
      </thead>
      <tbody>
        {debrief.operation.steps.map((step) => {
          const index = debrief.done.findIndex((one) => one.key === step.key);
          const at = times[index];
          return (
            <tr key={step.key} className="border-t border-line align-top">
              <td className="py-1 pr-3">{step.do}</td>
              <td className="py-1 pr-3 whitespace-nowrap">
                {at ? (
                  <button type="button" className="min-h-11 underline" onClick={() => onAt(at)}>
                    {new Date(at).toLocaleTimeString([], { hour12: false })}
                  </button>
                ) : (
                  "not done"
                )}
              </td>
              <td className="py-1 pr-3 whitespace-nowrap">{at ? minutes(at - (times[index - 1] ?? from)) : ""}</td>
              <td className="py-1">{debrief.done[index]?.by ?? ""}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
