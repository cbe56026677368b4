/** Beside the step: STOP, what comes next, the counters, what was heard. */
import { useState } from "react";
import { Link } from "react-router";
import type { Operation, Run, Step } from "../../api/types";
import { authorOf } from "../../plan/author";
import { clock, minutes } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { Small } from "../../ui/Small";
import type { Waiting } from "../../device/store";
import type { LiveRun } from "./useRun";

export function StopButton({ run, onStop }: { run: Run; onStop: () => void }) {
  const stopped = run.status === "stopped";
  return (
    <>
      <button
        type="button"
        className="min-h-[88px] w-full border-4 border-over bg-tint text-stop leading-none font-semibold tracking-wide text-over disabled:opacity-60 narrow:min-h-[96px]"
        onClick={onStop}
        disabled={stopped}
        data-testid="stop"
      >
        {stopped ? "STOPPED" : "STOP"}
      </button>
      <p className="mt-0.5 text-center font-label text-quiet narrow:hidden">anybody, on every screen at once</p>
    </>
  );
}

const WHY_GO = ["looked at, nothing wrong", "put right", "misheard"];

/** On every screen while the run is stopped: who, since when; the leader goes on, with a word. */
const WHY_STOP = ["suddenly heavy", "rope over a sharp edge", "somebody below", "knot or hitch not right", "misheard"];

interface BannerProps {
  run: Run;
  leads: boolean;
  me: string;
  onGo: (text: string) => void;
  onWhy: (text: string) => void;
}

export function StopBanner({ run, leads, me, onGo, onWhy }: BannerProps) {
  if (run.status !== "stopped" || !run.stopped) return null;
  return (
    <div role="alert" className="mb-2 border-4 border-over bg-tint px-4 py-2" data-testid="stopped">
      <p className="text-call leading-tight font-semibold text-over">
        ◆ STOP, {run.stopped.by}, {clock(run.stopped.at)}
      </p>
      {run.stopped.why ? <p className="text-head leading-tight">{run.stopped.why}</p> : null}
      {run.stopped.by === me && !run.stopped.why ? (
        <div className="mt-1 flex flex-wrap items-center gap-2" role="group" aria-label="Why">
          <span className="text-answer font-semibold">Why:</span>
          {WHY_STOP.map((one) => (
            <button key={one} type="button" className="button" onClick={() => onWhy(one)}>
              {one}
            </button>
          ))}
        </div>
      ) : null}
      {leads ? (
        <div className="mt-1 flex flex-wrap items-center gap-2">
          <span className="text-answer font-semibold">Go on:</span>
          {WHY_GO.map((one) => (
            <button key={one} type="button" className="button" onClick={() => onGo(one)}>
              {one}
            </button>
          ))}
        </div>
      ) : (
        <p className="text-answer">Hold. The leader says when it goes on.</p>
      )}
    </div>
  );
}

interface NextProps {
  run: Run;
  step: Step | null;
  next: Step | null;
  operation: Operation;
  live: LiveRun;
  acts: boolean;
}

export function Next({ run, step, next, operation, live, acts }: NextProps) {
  const { counts } = run;
  const section = operation.sections.find((one) => one.id === step?.section);
  const people = [...new Set(operation.steps.flatMap((one) => one.who.map((who) => who.name)))].filter(
    (name) => name && !name.includes(" "),
  );
  const after = section ? operation.sections[operation.sections.indexOf(section) + 1] : undefined;
  return (
    <div className="mt-2 text-answer leading-snug">
      {next ? (
        <p data-testid="next">
          <span className="font-label text-quiet">next </span>
          <b>{next.do}</b>
          {next.moves_text ? ` ${next.moves_text}.` : ""}
          {next.hands ? ` ${next.hands.needed} to pull.` : ""}
        </p>
      ) : null}
      {after && after.steps.length ? (
        <p className="font-label text-quiet">
          then {after.name.toLowerCase()}
          {after.text ? `, ${after.text}` : ""}
        </p>
      ) : null}
      {counts.in_m || counts.out_m ? (
        <p className="mt-1 font-label" data-testid="counts">
          {[
            counts.hauls ? `haul ${counts.hauls} of ${counts.hauls_in_all} done` : "",
            counts.resets ? `${counts.resets} ${counts.resets === 1 ? "reset" : "resets"}` : "",
            counts.in_m ? `${counts.in_m.toFixed(1)} m in` : "",
            counts.out_m ? `${counts.out_m.toFixed(1)} m out` : "",
            counts.join_in_m === null ? "" : `join comes in after ${counts.join_in_m.toFixed(1)} m more`,
            (counts.seconds_per_metre ?? 0) >= 1 ? `${counts.seconds_per_metre!.toFixed(0)} s a metre` : "",
          ]
            .filter(Boolean)
            .join(", ")}
        </p>
      ) : null}
      {run.looks.map((one) => (
        <p key={one.anchor} className="mt-1 flex items-center gap-2">
          <span className={`flex-1 ${one.due ? "font-semibold text-over" : "font-label"}`}>
            {one.due ? "◆ " : ""}
            {one.name}: looked at {minutes(one.seconds_ago * 1000)} ago
          </span>
          {acts ? (
            <button
              type="button"
              className="button"
              onClick={() => live.act({ act: "look", at: "", text: "", data: { anchor: one.anchor } })}
            >
              Looked
            </button>
          ) : null}
          {acts ? <Relief what={one.name} people={people} live={live} /> : null}
        </p>
      ))}
      {run.changed ? (
        <p className="mt-1 border-l-4 border-over bg-tint px-2 py-1 text-base" data-testid="changed">
          ◆ Since the plan was changed: {run.changed}
        </p>
      ) : null}
      {step?.lacks.length ? (
        <p className="mt-1 font-semibold text-over" data-testid="lacks">
          ◆ Nobody left for: {step.lacks.join(", ")}
        </p>
      ) : null}
    </div>
  );
}

/** A guard changed hand over hand: who has it from here on. */
function Relief({ what, people, live }: { what: string; people: string[]; live: LiveRun }) {
  const [open, show] = useState(false);
  return (
    <>
      <button type="button" className="button" onClick={() => show(true)}>
        Relieve …
      </button>
      {open ? (
        <Sheet title={`${what}: hand over hand to`} onClose={() => show(false)} wide>
          <div className="grid gap-2 sm:grid-cols-2">
            {people.map((to) => (
              <button
                key={to}
                type="button"
                className="button min-h-14 text-answer"
                onClick={() => {
                  live.act({ act: "relieve", at: "", text: "", data: { what, to } });
                  show(false);
                }}
              >
                {to}
              </button>
            ))}
          </div>
        </Sheet>
      ) : null}
    </>
  );
}

export function Heard({ live, plan, me }: { live: LiveRun; plan: string; me: string }) {
  return (
    <section aria-label="Heard" className="mt-2 flex min-h-0 flex-1 flex-col border-t border-line pt-1">
      <div className="flex items-baseline justify-between font-label text-quiet">
        <h2>Heard</h2>
        <Link to={`/plans/${plan}/log`} className="flex min-h-11 items-center underline">
          Whole log
        </Link>
      </div>
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- scrolled by keys, too */}
      <ol className="min-h-0 flex-1 overflow-y-auto narrow:max-h-56" tabIndex={0} data-testid="heard">
        {[...live.waiting].reverse().map((one) => (
          <li key={one.id} className="py-0.5 text-body leading-snug" data-waiting={one.item.type}>
            <span className="text-over">◆ not sent</span> <b>{one.by === me ? "you" : one.by}</b>{" "}
            {wordsOf(one.item, live.out.operation)}
            {one.by === me ? "" : `; goes out when ${one.by} signs in here`}
          </li>
        ))}
        {[...live.heard].reverse().map((one) => (
          <li key={one.id} className="py-0.5 text-body leading-snug" data-entry={one.id}>
            <span className="text-quiet">{clock(one.time)}</span> <b>{authorOf(one, me)}</b>{" "}
            {one.kind === "decision" ? "decided " : ""}
            {one.decision}
            {one.reason ? `, because ${one.reason}` : ""}
            {one.kind === "photo" ? <Small plan={plan} entry={one} /> : null}
          </li>
        ))}
      </ol>
    </section>
  );
}

const ACTS: Partial<Record<string, string>> = {
  done: "done",
  back: "back from",
  skip: "skipped",
  stop: "STOP",
  go: "going on",
};

/** What waits, in a few words. */
function wordsOf(item: Waiting["item"], operation: Operation): string {
  if (item.type === "photo") return `a photograph, ${item.name}`;
  if (item.type === "entry") return `${item.entry.kind === "decision" ? "decided " : ""}${item.entry.decision}`;
  const step = operation.steps.find((one) => one.key === item.act.at);
  const what = ACTS[item.act.act] ?? item.act.act;
  return [what, step?.do, item.act.text].filter(Boolean).join(": ");
}
