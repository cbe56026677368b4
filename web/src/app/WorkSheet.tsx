/** The work sheet: rail, section, bench or ledger, load path, decision line. */
import { Radio, RadioGroup } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api } from "../api/client";
import type { Belay, Catalogue, Choice, NextStep, Plan, Report, Session, StateReport } from "../api/types";
import { LinesPlan, liesAside } from "../drawing/LinesPlan";
import { Section } from "../drawing/Section";
import { LoadPath } from "../ladder/LoadPath";
import { haulingLine, mainLine } from "../plan/document";
import { edited, type Edit } from "../plan/edits";
import { useCheck } from "../plan/useCheck";
import { useDecided } from "../plan/useDecided";
import { useHolds } from "../plan/useHolds";
import { useOpenPlan, type OpenPlan } from "../plan/usePlan";
import { useStopped } from "../plan/useStopped";
import { useWay } from "../plan/useWay";
import { Inspector, type Touched } from "../stages/lines/Inspector";
import { LinesStage } from "../stages/lines/LinesStage";
import { useHaulEdits } from "../stages/lines/useHaulEdits";
import { useLineEdits } from "../stages/lines/useLineEdits";
import { ChoiceSheet, type What } from "../ui/ChoiceSheet";
import { FaultContext } from "../ui/fields";
import { FaultList } from "../ui/FaultList";
import { clock, spanned, unbroken } from "../ui/format";
import { WorkingContext } from "../ui/WorkingView";
import { DecisionLine } from "./DecisionLine";
import { KeysSheet, useKeys } from "./keys";
import { NextThing } from "./NextThing";
import { Rail } from "./Rail";
import { useSettings, type ForceUnit } from "./settings";
import { StaleSheet } from "./StaleSheet";

// A stage's own script comes when the stage is opened.
const AnchorsStage = lazy(async () => ({ default: (await import("../stages/anchors/AnchorsStage")).AnchorsStage }));
const CheckPage = lazy(async () => ({ default: (await import("../stages/check/CheckPage")).CheckPage }));
const LogPage = lazy(async () => ({ default: (await import("../stages/log/LogPage")).LogPage }));
const BuysMost = lazy(async () => ({ default: (await import("../stages/lines/BuysMost")).BuysMost }));
const WayStage = lazy(async () => ({ default: (await import("../stages/lines/WayStage")).WayStage }));
const SizeUp = lazy(async () => ({ default: (await import("../stages/sizeup/SizeUp")).SizeUp }));

interface Props {
  session: Session;
  catalogue: Catalogue;
}

const GROUPS: { id: StateReport["group"]; name: string; key: string }[] = [
  { id: "held", name: "Hold", key: "1" },
  { id: "lower", name: "Lower", key: "2" },
  { id: "raise", name: "Raise", key: "3" },
  { id: "goes", name: "A line goes", key: "4" },
];

export function WorkSheet(props: Props) {
  const { id = "" } = useParams();
  const plan = useQuery({
    queryKey: ["plan", id],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })),
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
    retry: true,
    retryDelay: 2000,
  });
  if (plan.data && !plan.isFetching) return <Sheet {...props} plan={plan.data} key={plan.data.id} />;
  return (
    <main className="p-8 text-lg">
      {plan.failureCount
        ? `◆ ${plan.failureReason?.message ?? "The server can not be reached"}. Trying again. `
        : "Opening. "}
      <Link to="/plans" className="underline">
        Back to the plans
      </Link>
    </main>
  );
}

function Sheet({ plan, session, catalogue }: Props & { plan: Plan }) {
  const { stage = "lines" } = useParams();
  const go = useNavigate();
  const [asked, ask] = useState<string | null>(null);
  const [wayShown, showWay] = useState(false);
  const [place, setPlace] = useState(0);
  const [run, setRun] = useState<number | null>(null);
  const [tight, setTight] = useState<string | null>(null);
  const [bestShown, showBest] = useState(false);
  const [considered, consider] = useState("");
  const onWay = wayShown && stage === "lines";
  const open = useOpenPlan(plan, stage === "anchors", asked, onWay && !tight ? run : null);
  const [touched, setTouched] = useState<Touched | null>(null);
  const [gone, setGone] = useState<string | null>(null);
  const [choosing, choose] = useState<What | null>(null);
  const [pointedAt, pointAt] = useState<string | null>(null);
  const [keysShown, showKeys] = useState(false);
  const decision = useRef<HTMLInputElement>(null);
  const log = useQuery({
    queryKey: ["log", plan.id],
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan.id } } })),
    refetchInterval: 5000,
  });
  const stopped = useStopped(plan.id);
  const decided = useDecided(open.document, open.canEdit, considered);
  const edits = useHaulEdits(open, catalogue);
  const lines = useLineEdits(open);
  const { report, whole, document } = open;
  const state =
    report?.states.find((one) => one.id === asked) ?? report?.states.find((one) => one.id === report.opens_in) ?? null;
  const stateId = state?.id ?? "held";
  // From the first report on, the state that is looked at stays until another is asked for.
  if (asked === null && report) ask(report.opens_in);
  const holds = useHolds(document, stateId, gone, stage === "check");
  const check = useCheck(document, plan.id);
  const way = useWay(document, onWay, tight);
  const job = way?.jobs.find((one) => one.job === (state?.group === "lower" ? "lowering" : "raising")) ?? way?.jobs[0];
  const goTo = useCallback(
    (to: number) => {
      setPlace(to);
      setRun(way?.places[to]?.run_m ?? null);
    },
    [way],
  );
  const wayOf = (line: string | null) => {
    setTight(line);
    showWay(true);
    setPlace(0);
    setRun(line ? null : 0);
  };
  const turnWay = () => {
    setTight(null);
    const on = !wayShown || stage !== "lines";
    showWay(on);
    setPlace(0);
    setRun(on ? 0 : null);
    if (on && stage !== "lines") void go(`/plans/${plan.id}/lines`);
    if (on && state?.id !== "lowering" && state?.id !== "raising")
      ask(haulingLine(document)?.haul ? "raising" : "lowering");
  };
  const show = (id: string) => {
    setGone(null);
    ask(id);
  };
  const showGroup = (group: StateReport["group"]) => {
    const all = report?.states.filter((one) => one.group === group) ?? [];
    const here = all.findIndex((one) => one.id === stateId);
    // The same key again goes on to the group's next state.
    const next = here < 0 ? (all.find((one) => one.available) ?? all[0]) : all[(here + 1) % all.length];
    if (next) show(next.id);
  };
  const close = () => setTouched(null);
  useKeys({
    d: () => decision.current?.focus(),
    s: () => void go(`/plans/${plan.id}/size-up`),
    a: () => void go(`/plans/${plan.id}/anchors`),
    l: () => void go(`/plans/${plan.id}/lines`),
    c: () => void go(`/plans/${plan.id}/check`),
    w: turnWay,
    b: () => showBest(!bestShown),
    r: () => void go(`/plans/${plan.id}/run`),
    g: () => void go(`/plans/${plan.id}/log`),
    "?": () => showKeys(true),
    ...Object.fromEntries(GROUPS.map((one) => [one.key, () => showGroup(one.id)])),
  });
  const findings = useMemo(
    () =>
      [...(state?.findings ?? []), ...(report?.findings ?? [])].sort(
        (a, b) => "stop look note".indexOf(a.level) - "stop look note".indexOf(b.level),
      ),
    [state, report],
  );
  const about = useMemo(
    () => ({ document, of: "plan" as const, state: stateId, catalogue }),
    [document, stateId, catalogue],
  );
  const doNext = (step: NextStep) => {
    if (step.id === "lowering" || step.id === "haul" || step.id === "belay") choose(step.id);
    const led = {
      lowering: "lowering",
      "brake-hitch": "lowering",
      haul: "raising",
      capture: "raising",
      minder: "raising",
      belay: "held",
    }[step.id];
    if (led) show(led);
    pointAt(step.id);
  };
  const put = (what: What) => (choice: Choice) => {
    if (what === "haul") edits.take(choice.edits as Edit[]);
    else if (what !== "belay") open.edit((old) => edited(old, choice.edits as Edit[]));
    else {
      const [kind, ...rest] = choice.id.split(":");
      lines.belay({ holds: kind as Belay["holds"], what: rest.join(":"), minder: "", round_ropes: 1 });
    }
  };

  // What hangs is tall: it is drawn beside its bench, not above it.
  const hung = stage === "lines" && report?.site.straight === true;
  return (
    <FaultContext value={open.faults}>
      <WorkingContext value={about}>
        {stopped ? (
          <Link
            to={`/plans/${plan.id}/run`}
            role="alert"
            className="fixed inset-x-0 top-0 z-50 border-4 border-over bg-tint px-4 py-2 text-[26px] leading-tight font-semibold text-over"
            data-testid="stopped"
          >
            ◆ STOP, {stopped.by}, {clock(stopped.at)}
            {stopped.why ? `: ${stopped.why}` : ""}. To the run
          </Link>
        ) : null}
        <div className="grid h-full min-h-[560px] grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
          <header className="flex flex-wrap items-center gap-x-4 border-b border-line bg-sheet pl-4">
            <div className="flex min-w-0 flex-1 items-baseline gap-x-3 max-md:basis-full max-md:flex-wrap max-md:pt-1">
              <h1 className="truncate text-lg font-semibold">{document.title}</h1>
              <Saved open={open} />
            </div>
            {stage !== "log" && report ? <GroupSwitch group={state?.group ?? "held"} onGroup={showGroup} /> : null}
            <Tools session={session} onKeys={() => showKeys(true)} />
          </header>
          <div className="grid min-h-0 grid-cols-[84px_minmax(0,1fr)] lg:grid-cols-[100px_minmax(0,1fr)]">
            <Rail plan={plan} stage={stage} whole={whole} found={check} />
            <Suspense fallback={<p className="p-4">Opening.</p>}>
              {stage === "log" ? (
                <LogPage open={open} />
              ) : stage === "check" ? (
                <CheckPage
                  open={open}
                  found={check}
                  holds={holds}
                  state={state}
                  me={session.username}
                  onState={show}
                  onGone={(id, part) => {
                    ask(id);
                    setGone(part);
                  }}
                />
              ) : (
                <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_clamp(310px,30vw,380px)] max-md:block max-md:overflow-y-auto">
                  <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-col bg-sheet">
                    <NextThing whole={whole} planId={plan.id} onOpen={doNext} />
                    {stage === "anchors" ? (
                      <AnchorsStage
                        open={open}
                        catalogue={catalogue}
                        state={stateId}
                        pointedAt={pointedAt}
                        onPointed={() => pointAt(null)}
                      />
                    ) : (
                      <div
                        className={`grid min-h-0 min-w-0 flex-1 max-md:min-h-[760px] ${onWay ? ON_WAY : hung ? HUNG : stage === "size-up" ? HALVES : STACKED}`}
                      >
                        <div className="flex min-h-0 flex-col">
                          <div className="flex flex-wrap items-center justify-between gap-x-4 px-4">
                            <h2 className="font-semibold">Section along the fall line</h2>
                            {stage === "lines" && mainOrHaul(document) ? (
                              <button type="button" className="button px-3!" aria-pressed={onWay} onClick={turnWay}>
                                {onWay ? "Back to the bench" : "The whole way"}
                              </button>
                            ) : null}
                            {report && state ? <StateSwitch report={report} state={state} onState={show} /> : null}
                            {stage === "size-up" ? <RopeLeft open={open} /> : null}
                          </div>
                          {holds?.text && stage === "lines" && !(onWay && tight) ? (
                            <p className="px-4 text-[16px] leading-snug" data-testid="holds" aria-live="polite">
                              <b>{state?.name}</b>: {holds.text[0]?.toLowerCase()}
                              {unbroken(holds.text.slice(1))}
                            </p>
                          ) : null}
                          {holds?.gone ? (
                            <div
                              role="status"
                              className="mx-3 flex items-center gap-3 border-l-4 border-over bg-tint px-3"
                              data-testid="gone"
                            >
                              <p
                                className={`flex-1 text-[17px] leading-snug ${holds.gone.further_m === null ? "font-semibold text-over" : ""}`}
                              >
                                {holds.gone.further_m === null ? "◆" : "◇"} {unbroken(holds.gone.text)}
                              </p>
                              <button type="button" className="button my-1" onClick={() => setGone(null)}>
                                Put it back
                              </button>
                            </div>
                          ) : null}
                          <FaultList open={open} />
                          <div className="flex min-h-0 flex-1">
                            <Section
                              document={onWay ? at(document, way?.places[place]) : document}
                              report={onWay && tight ? null : report}
                              state={onWay && tight ? null : state}
                              span={onWay && tight && way ? way.ends : null}
                              gone={onWay ? null : (holds?.gone ?? null)}
                              shaping={stage === "size-up"}
                              canEdit={open.canEdit && !onWay}
                              onEdit={open.edit}
                              onStrand={(strand) => setTouched({ what: "strand", id: strand.id })}
                              onEdge={(crossing) => setTouched({ what: "crossing", id: crossing.id })}
                            />
                            {stage === "lines" && !onWay && liesAside(document) ? (
                              <div className="flex w-[40%] min-w-[220px] border-l border-line max-md:hidden">
                                <LinesPlan
                                  document={document}
                                  report={report}
                                  state={state}
                                  canEdit={open.canEdit}
                                  onMoveAnchor={lines.moveAnchor}
                                  onWalk={lines.walk}
                                  onRedirect={lines.redirect}
                                  onStrand={(strand) => setTouched({ what: "strand", id: strand.id })}
                                />
                              </div>
                            ) : null}
                          </div>
                        </div>
                        <div
                          className={`flex min-h-0 flex-col overflow-y-auto border-film ${hung ? "border-l-4 max-md:border-t-4" : "border-t-4"}`}
                        >
                          {onWay ? (
                            way && job ? (
                              <WayStage
                                way={way}
                                job={job}
                                place={Math.min(place, way.places.length - 1)}
                                onPlace={goTo}
                                open={open}
                                catalogue={catalogue}
                                line={tight}
                                onLine={wayOf}
                              />
                            ) : (
                              <p role="status" className="p-4">
                                Working out the whole way.
                              </p>
                            )
                          ) : stage === "size-up" ? (
                            <SizeUp open={open} catalogue={catalogue} lines={lines} />
                          ) : (
                            <LinesStage
                              open={open}
                              catalogue={catalogue}
                              state={state}
                              edits={edits}
                              lines={lines}
                              onTouch={setTouched}
                              onChoose={choose}
                              onTension={wayOf}
                            />
                          )}
                        </div>
                      </div>
                    )}
                  </main>
                  <aside
                    aria-label={bestShown && stage === "lines" ? "Changes" : "Load path"}
                    className="min-h-0 overflow-y-auto border-l-2 border-line bg-sheet"
                    tabIndex={-1}
                  >
                    {bestShown && stage === "lines" ? (
                      <BuysMost
                        open={open}
                        lowers={state?.group === "lower"}
                        onClose={() => showBest(false)}
                        onMade={consider}
                      />
                    ) : state && whole ? (
                      <LoadPath
                        state={state}
                        rule={whole.rule}
                        findings={findings}
                        onRung={(rung) => setTouched({ what: "rung", id: rung.id })}
                        onBest={stage === "lines" && mainOrHaul(document) ? () => showBest(true) : null}
                      />
                    ) : (
                      <p className="p-4">Working it out.</p>
                    )}
                    <p className="border-t border-line px-4 py-2 font-label text-[15px] text-quiet">
                      {report?.caution ?? session.caution}
                    </p>
                  </aside>
                </div>
              )}
            </Suspense>
          </div>
          <DecisionLine
            open={open}
            log={log.data?.entries ?? []}
            field={decision}
            offer={decided.offer}
            onRecorded={() => {
              decided.settle();
              consider("");
            }}
          />
        </div>
        {touched && report && state ? (
          <Inspector
            touched={touched}
            open={open}
            report={report}
            state={state}
            catalogue={catalogue}
            edits={edits}
            lines={lines}
            onGone={setGone}
            onClose={close}
          />
        ) : null}
        {choosing ? (
          <ChoiceSheet
            what={choosing}
            document={document}
            chosen={chosenOf(choosing, document)}
            onChoose={(choice, others) => {
              consider(others);
              put(choosing)(choice);
            }}
            onClose={() => choose(null)}
          />
        ) : null}
        {open.stale ? <StaleSheet open={open} stale={open.stale} /> : null}
        {keysShown ? <KeysSheet onClose={() => showKeys(false)} /> : null}
      </WorkingContext>
    </FaultContext>
  );
}

/** Whether a line is there that lowers or raises. */
function mainOrHaul(document: OpenPlan["document"]): boolean {
  return Boolean(mainLine(document)?.lowering ?? haulingLine(document)?.haul);
}

/** The document with its load at a place of its way, as the core found it. */
function at(document: OpenPlan["document"], place: { x_m: number; z_m: number } | undefined): OpenPlan["document"] {
  if (!place) return document;
  return { ...document, site: { ...document.site, load_at: { x_m: place.x_m, z_m: place.z_m } } };
}

/** How the section and what stands with it share the sheet. */
const HALVES = "grid-cols-[minmax(0,1fr)] grid-rows-2";
const STACKED = "grid-cols-[minmax(0,1fr)] grid-rows-[minmax(240px,1fr)_minmax(40%,max-content)]";
const ON_WAY =
  "grid-cols-[minmax(0,1fr)] grid-rows-[minmax(220px,1fr)_auto] max-md:grid-rows-[380px_auto] max-md:min-h-[1100px]!";
const HUNG =
  "grid-cols-[minmax(0,0.62fr)_minmax(0,1fr)] grid-rows-[minmax(0,1fr)] max-md:grid-cols-[minmax(0,1fr)] max-md:grid-rows-2";

function chosenOf(what: What, document: OpenPlan["document"]): string | null {
  if (what === "lowering") return mainLine(document)?.lowering?.device ?? null;
  if (what === "haul") return haulingLine(document)?.haul?.system.id ?? null;
  if (what === "brake") return mainLine(document)?.lowering?.brake_hitch ?? "none";
  if (what === "grab") return haulingLine(document)?.haul?.grab ?? null;
  if (what === "capture") return haulingLine(document)?.haul?.capture ?? "none";
  const belay = (document.lines ?? []).find((one) => one.role === "belay")?.belay;
  return belay ? `${belay.holds}:${belay.what}` : null;
}

function Saved({ open }: { open: OpenPlan }) {
  const { number, saved_at } = open.revision;
  const words = {
    saved: `revision ${number}, saved ${clock(saved_at)}`,
    waiting: `revision ${number}, saving`,
    offline: "◆ No connection. Kept on this device, sent when it is back",
    stale: "◆ Somebody saved in between",
    refused: "◆ Not saved: a value is wrong. Kept on this device",
  }[open.saving];
  const loud = open.saving === "offline" || open.saving === "stale" || open.saving === "refused";
  return (
    <p
      role="status"
      data-saving={open.saving}
      className={`font-label md:whitespace-nowrap ${loud ? "bg-over px-2 py-1 font-semibold text-sheet" : "text-quiet"}`}
    >
      {words}
      {open.canEdit ? "" : " (you read only)"}
    </p>
  );
}

const RADIO =
  "flex cursor-pointer items-center justify-center rounded-[3px] px-3 data-checked:bg-ink data-checked:font-semibold data-checked:text-sheet";

function GroupSwitch({
  group,
  onGroup,
}: {
  group: StateReport["group"];
  onGroup: (group: StateReport["group"]) => void;
}) {
  return (
    <RadioGroup value={group} onChange={onGroup} aria-label="State" className="flex gap-1 py-0.5">
      {GROUPS.map((one) => (
        <Radio key={one.id} value={one.id} className={`${RADIO} min-h-11 min-w-16`}>
          {one.name}
        </Radio>
      ))}
    </RadioGroup>
  );
}

/** The states of the group that is shown, in the leader's words. */
function StateSwitch({
  report,
  state,
  onState,
}: {
  report: Report;
  state: StateReport;
  onState: (id: string) => void;
}) {
  const all = report.states.filter((one) => one.group === state.group);
  if (all.length < 2) return null;
  return (
    <RadioGroup value={state.id} onChange={onState} aria-label="State within" className="flex flex-wrap gap-0.5">
      {all.map((one) => (
        <Radio
          key={one.id}
          value={one.id}
          className={`${RADIO} min-h-11 border-b-2 border-transparent px-2.5! font-label text-[16px]`}
        >
          {one.available ? "" : "◇ "}
          {one.name.replace(/^(Lowering|Raising), hands/, "Hands")}
        </Radio>
      ))}
    </RadioGroup>
  );
}

function Tools({ session, onKeys }: { session: Session; onKeys: () => void }) {
  const [settings, set] = useSettings();
  const units: ForceUnit[] = ["kN", "kgf", "lbf"];
  const next = units[(units.indexOf(settings.force) + 1) % units.length] ?? "kN";
  const plain = "min-h-11 min-w-11 px-2.5 hover:bg-film";
  return (
    <div className="flex items-center">
      <button
        type="button"
        className={plain}
        aria-label={`${settings.force}: units of force and length. Change to ${next}`}
        onClick={() => set({ force: next, length: next === "lbf" ? "ft" : "m" })}
      >
        {settings.force}
      </button>
      <button type="button" className={plain} onClick={() => set({ night: !settings.night })}>
        {settings.night ? "Day" : "Night"}
      </button>
      <button type="button" className={plain} onClick={onKeys}>
        Keys
      </button>
      <Link to="/plans" className={`${plain} flex items-center`} title="Back to the plans">
        {session.username}
      </Link>
    </div>
  );
}

function RopeLeft({ open }: { open: OpenPlan }) {
  const [settings] = useSettings();
  const worst = [...(open.report?.budgets ?? [])].sort((a, b) => a.left.low - b.left.low)[0];
  if (!worst) return null;
  const short = worst.left.low < 0;
  const length = (figure: typeof worst.left) => spanned(figure, settings);
  const missing = { ...worst.left, expected: -worst.left.expected, low: -worst.left.high, high: -worst.left.low };
  return (
    <p className={short ? "font-semibold text-over" : "font-label"} data-testid="rope-left">
      {short ? "◆ " : ""}rope {length(worst.length)}, {length(worst.needed)} to {worst.job}:{" "}
      {short ? `${length(missing)} short` : `${length(worst.left)} left`}
    </p>
  );
}
