/** The Run stage: the step now in large letters, what holds, STOP always in reach, the log written as it happens. */
import { useEffect, useState, useSyncExternalStore } from "react";
import { Link, Navigate, useParams } from "react-router";
import type { Run, RunOut, Session, Step } from "../../api/types";
import { useKeys } from "../../ui/keys";
import { useSettings } from "../../ui/settings";
import { Connection } from "../../ui/Connection";
import { clock, minutes } from "../../ui/format";
import { AtTable } from "../../plan/AtTable";
import { Accept } from "./Accept";
import { Alarms } from "./Alarms";
import { Beside } from "./Beside";
import { CellSheet } from "./CellSheet";
import { FIXED } from "./Arranging";
import { Composed } from "./Composed";
import { untilOf } from "./until";
import { Conflicts } from "./Conflicts";
import { Contingencies } from "./Contingencies";
import { Heard, Next, StopButton, StopBanner } from "./Side";
import { LessonSheet } from "./LessonSheet";
import { RoleSheet, ROLES, useRole } from "./Role";
import { Instead } from "./Instead";
import { StepNow } from "./StepNow";
import { TakeOver } from "./TakeOver";
import { ProcedureSheet } from "./ProcedureSheet";
import { Strips, useCells } from "./Strip";
import { useRun, type Act, type LiveRun } from "./useRun";
import { Writing } from "./Writing";
import { Region } from "../../ui/Region";
import { Since } from "../../ui/Since";

export function RunPage({ session }: { session: Session }) {
  const { id = "" } = useParams();
  const live = useRun(id, session.username);
  if (!live)
    return (
      <main className="p-8 text-answer">
        <Since>Opening the run.</Since>{" "}
        <Link to="/plans" className="underline">
          Back to the plans
        </Link>
      </main>
    );
  // Who only reads has nothing to do here; what was done is gone through on the debrief.
  if (live.out.reads) return <Navigate to={`/plans/${id}/debrief`} replace />;
  return <Running plan={id} live={live} session={session} />;
}

/** The step that is now: a contingency's while one is under way. */
export function stepNow(live: LiveRun): Step | null {
  const { run, out } = live;
  if (!run || run.status === "ended") return null;
  if (run.contingency) return run.contingency.steps[run.contingency.place] ?? null;
  return out.operation.steps.find((one) => one.key === run.at) ?? null;
}

function hereOf({ run, out }: LiveRun): string {
  return out.operation.steps.find((one) => one.key === run?.at)?.do ?? "";
}

function Running({ plan, live, session }: { plan: string; live: LiveRun; session: Session }) {
  const { out, run } = live;
  const [role, setRole] = useRole(plan);
  const [choosing, choose] = useState(false);
  const [other, showOther] = useState(false);
  const [accepting, accept] = useState(false);
  const [takingOver, takeOver] = useState(false);
  const [procedure, openProcedure] = useState<string | null>(null);
  const step = stepNow(live);
  const going = run !== null && run.status !== "ended";
  const leads = out.role === "leader";
  const acts = out.role !== "observer";
  const index = step && !run?.contingency ? out.operation.steps.findIndex((one) => one.key === step.key) : -1;
  const next = index >= 0 ? (out.operation.steps[index + 1] ?? null) : null;
  const narrow = useNarrow();
  const cells = useCells(plan, live);
  const [onCells, showCells] = useState(false);
  const [onLesson, showLesson] = useState(false);
  useAwake(going);
  const done = () => {
    if (!step || !run || run.all_done) return;
    if (asksReason(step)) accept(true);
    else live.act({ act: "done", at: step.key, text: "", data: {} });
  };
  useKeys({
    Enter: () => {
      if (going && acts && run.status === "going") done();
    },
    Backspace: () => {
      if (going && leads && step) live.act({ act: "back", at: step.key, text: "", data: {} });
    },
    x: () => {
      if (going && run.status === "going") live.act(STOP);
    },
    e: () => showOther(true),
  });
  const writing = (
    <Writing
      live={live}
      revision={run?.revision ?? 1}
      step={step?.key ?? ""}
      acts={acts}
      leads={leads}
      onCells={cells ? () => showCells(true) : null}
      places={placesOf(step)}
    />
  );
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto] bg-sheet">
      <div>
        {typeof run?.pace === "number" ? <AtTable plan={plan} leads={leads} /> : null}
        <Header plan={plan} live={live} role={role} onRole={() => choose(true)} />
      </div>
      {run && going ? (
        <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_clamp(280px,36vw,400px)] narrow:block narrow:overflow-y-auto">
          <main
            tabIndex={-1}
            className="flex min-h-0 min-w-0 flex-col overflow-y-auto px-4 pt-2 pb-3 narrow:overflow-visible"
          >
            <StopBanner
              run={run}
              leads={leads}
              me={session.username}
              onGo={(text) => live.act({ act: "go", at: "", text, data: {} })}
              onWhy={(text) => live.act({ act: "why", at: "", text, data: {} })}
            />
            <Region name="Alarms" of={live.heard}>
              <Alarms
                heard={live.heard}
                begun={run.begun_at}
                stopped={run.status === "stopped"}
                onStop={() => live.act(STOP)}
              />
            </Region>
            <Conflicts conflicts={run.conflicts} here={hereOf(live)} leads={leads} onSettle={live.act} />
            {live.refused ? (
              <div role="alert" className="mb-2 flex items-start gap-3 border-2 border-over bg-tint px-3 py-1.5">
                <p className="flex-1 text-answer leading-snug">◆ {live.refused}</p>
                <button type="button" className="button" onClick={live.dismiss}>
                  Understood
                </button>
              </div>
            ) : null}
            {narrow && cells ? (
              <Region name="The cells" of={cells}>
                <Strips cells={cells} live={live} narrow />
              </Region>
            ) : null}
            {step ? (
              <Region name="The step" of={step}>
                <StepNow
                  step={step}
                  run={run}
                  operation={out.operation}
                  role={role}
                  narrow={narrow}
                  stopped={run.status === "stopped"}
                  acts={acts}
                  leads={leads}
                  onDone={done}
                  onBack={() => live.act({ act: "back", at: step.key, text: "", data: {} })}
                  onSkip={() => live.act({ act: "skip", at: step.key, text: "", data: {} })}
                  onOther={() => showOther(true)}
                  onProcedure={
                    leads &&
                    !FIXED.includes(step.section) &&
                    out.operation.sections.some((one) => one.id === step.section)
                      ? () => openProcedure(step.section.split(":")[0]!)
                      : null
                  }
                  onReturn={() => live.act({ act: "return", at: "", text: "", data: {} })}
                  onTakeOver={() => takeOver(true)}
                  onEnd={() => live.act({ act: "end", at: "", text: "", data: {} })}
                />
              </Region>
            ) : null}
          </main>
          <aside
            aria-label="Stop, what comes next, what was heard"
            className="flex min-h-0 flex-col border-l-2 border-line px-4 pt-3 narrow:border-t-2 narrow:border-l-0"
          >
            {narrow ? null : <StopButton run={run} onStop={() => live.act(STOP)} />}
            {!narrow && cells ? (
              <Region name="The cells" of={cells}>
                <Strips cells={cells} live={live} />
              </Region>
            ) : null}
            <Region name="What comes next" of={step}>
              <Next run={run} step={step} next={next} operation={out.operation} live={live} acts={acts} />
              <Beside run={run} operation={out.operation} live={live} role={role} acts={acts} />
              {leads && !run.contingency ? <Instead run={run} operation={out.operation} live={live} /> : null}
            </Region>
            {narrow ? writing : null}
            <Region name="What was heard" of={live.heard}>
              <Heard live={live} plan={plan} me={session.username} />
            </Region>
          </aside>
        </div>
      ) : (
        <Composed
          out={out}
          leads={leads}
          onBegin={(text, from) => live.act({ act: "begin", at: "", text, data: from ? { from } : {} })}
          plan={plan}
          onProcedure={openProcedure}
        />
      )}
      <footer className="border-t-2 border-ink bg-film">
        {run && going && narrow ? (
          <div className="p-3">
            <StopButton run={run} onStop={() => live.act(STOP)} />
          </div>
        ) : null}
        {narrow && going ? null : writing}
      </footer>
      {onCells && cells ? (
        <CellSheet
          plan={plan}
          cells={cells}
          onLesson={() => {
            showCells(false);
            showLesson(true);
          }}
          onClose={() => showCells(false)}
        />
      ) : null}
      {onLesson ? <LessonSheet plan={plan} live={live} leads={leads} onClose={() => showLesson(false)} /> : null}
      {choosing ? (
        <RoleSheet
          role={role}
          onRole={(one) => {
            setRole(one);
            if (acts && going) live.act({ act: "here", at: "", text: "", data: { role: one } });
            choose(false);
          }}
          onClose={() => choose(false)}
        />
      ) : null}
      {other ? (
        <Contingencies
          onEnter={(id) => {
            live.act({ act: "contingency", at: "", text: "", data: { id } });
            showOther(false);
          }}
          team={out.team}
          onClose={() => showOther(false)}
        />
      ) : null}
      {procedure ? (
        <ProcedureSheet
          plan={plan}
          team={out.team}
          procedure={procedure}
          live={live}
          onClose={() => openProcedure(null)}
        />
      ) : null}
      {takingOver && step ? (
        <TakeOver
          plan={plan}
          step={step}
          onSay={(said, text) => {
            live.act({ act: "otherwise", at: step.key, text, data: { ...said } });
            takeOver(false);
          }}
          onTake={(act, text) => {
            live.act({ act, at: step.key, text, data: { anyway: true } });
            takeOver(false);
          }}
          onClose={() => takeOver(false)}
        />
      ) : null}
      {accepting && step ? (
        <Accept
          step={step}
          onAccept={(text) => {
            live.act({ act: "done", at: step.key, text, data: {} });
            accept(false);
          }}
          onClose={() => accept(false)}
        />
      ) : null}
    </div>
  );
}

/** Where something can be seen, in the words of the step's own drawing. */
function placesOf(step: Step | null | undefined): string[] {
  const marks = step?.marks.filter((one) => one.kind === "anchor" || one.kind === "edge") ?? [];
  const named = marks.filter((one) => one.kind === "anchor").map((one) => one.name);
  return [
    ...new Set([
      ...(marks.length > named.length ? ["at the edge"] : []),
      ...named.map((one) => `at the ${one}`),
      "at the load",
    ]),
  ];
}

const STOP: Act = { act: "stop", at: "", text: "", data: {} };

/** Whether somebody has to accept that it hangs on one thing: not while the load lies on the ground. */
function asksReason(step: Step): boolean {
  return step.holds.alone.length > 0 && !step.holds.grounded;
}

function Header({ plan, live, role, onRole }: { plan: string; live: LiveRun; role: string; onRole: () => void }) {
  const [settings, set] = useSettings();
  const { run } = live;
  const people = Object.keys(run?.here ?? {}).length;
  return (
    <header className="flex flex-wrap items-center gap-x-4 border-b border-line bg-film pl-4">
      <h1 className="text-answer font-semibold">Run</h1>
      {run && run.status !== "ended" ? (
        <p className="font-label text-quiet">
          running {minutes(Date.parse(run.now) - Date.parse(run.begun_at))}
          {people ? `, ${people} here` : ""}
        </p>
      ) : null}
      <Connection connected={live.connected} waiting={live.waiting.length} />
      {run && run.status !== "ended" ? <Until key={run.now} operation={live.out.operation} run={run} /> : null}
      <button type="button" className="min-h-11 px-3 font-semibold hover:bg-sheet" onClick={onRole} data-testid="role">
        {ROLES[role] ?? "Who are you?"}
      </button>
      <button type="button" className="min-h-11 px-3 hover:bg-sheet" onClick={() => set({ night: !settings.night })}>
        {settings.night ? "Day" : "Night"}
      </button>
      <Link to={`/plans/${plan}/check`} className="flex min-h-11 items-center px-3 hover:bg-sheet">
        Plan
      </Link>
    </header>
  );
}

/** How far it is up, when it will be, and how that stands to what was planned. */
function Until({ operation, run }: { operation: RunOut["operation"]; run: Run }) {
  const { counts } = run;
  const until = untilOf(operation, run, Date.parse(run.now) + useElapsed() * (run.pace ?? 1));
  const far =
    counts.hauls_in_all && counts.to_edge_m !== null && counts.in_m
      ? `${counts.in_m.toFixed(0)} m of ${(counts.in_m + counts.to_edge_m).toFixed(0)} up`
      : "";
  if (!until) return far ? <p className="font-label max-sm:hidden">{far}</p> : null;
  const late = Math.round(until.late);
  const against = Math.abs(late) < 2 ? "" : `, ${Math.abs(late)} min ${late > 0 ? "later" : "earlier"} than planned`;
  return (
    <p className="font-label" data-testid="progress">
      <span className="max-sm:hidden">{far ? `${far}, ` : ""}</span>
      {operation.timing.done} about <b>{clock(until.expected)}</b>
      <span className="max-sm:hidden">
        {" "}
        ({clock(until.low)} to {clock(until.high)}){against}
      </span>
    </p>
  );
}

/** Milliseconds since this was first shown. */
function useElapsed(): number {
  const [elapsed, set] = useState(0);
  useEffect(() => {
    const began = performance.now();
    const timer = window.setInterval(() => set(performance.now() - began), TICK_MS);
    return () => window.clearInterval(timer);
  }, []);
  return elapsed;
}

const TICK_MS = 15_000;
const NARROW = "(max-width: 767px)";

/** Whether this is a phone: STOP then stands at the foot, under the thumb. */
function useNarrow(): boolean {
  return useSyncExternalStore(
    (told) => {
      const media = window.matchMedia(NARROW);
      media.addEventListener("change", told);
      return () => media.removeEventListener("change", told);
    },
    () => window.matchMedia(NARROW).matches,
  );
}

/** The screen stays on while the run goes, where the browser can do that. */
function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    const ask = () => {
      if (document.visibilityState === "visible")
        void navigator.wakeLock.request("screen").then(
          (one) => (lock = one),
          () => null,
        );
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, [on]);
}
