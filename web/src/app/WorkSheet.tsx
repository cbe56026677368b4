/** The work sheet: rail, section, bench or ledger, load path, decision line. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api } from "../api/client";
import type { Belay, Catalogue, Choice, Holds, NextStep, Plan, Session, StateReport } from "../api/types";
import { LinesPlan, liesAside } from "../drawing/LinesPlan";
import { Section } from "../drawing/Section";
import { readKept, type Kept } from "../device/plans";
import { LoadPath } from "../ladder/LoadPath";
import { haulingLine, mainLine } from "../plan/document";
import { edited, type Edit } from "../plan/edits";
import { useCheck } from "../plan/useCheck";
import { useDecided } from "../plan/useDecided";
import { useHolds } from "../plan/useHolds";
import { useOpenPlan, type OpenPlan } from "../plan/usePlan";
import { useNews } from "../plan/useNews";
import { useWay } from "../plan/useWay";
import { Inspector, type Touched } from "../stages/lines/Inspector";
import { LinesStage } from "../stages/lines/LinesStage";
import { useHaulEdits } from "../stages/lines/useHaulEdits";
import { useLineEdits } from "../stages/lines/useLineEdits";
import { ChoiceSheet, type What } from "../ui/ChoiceSheet";
import { wrongOf } from "../ui/faults";
import { FaultContext } from "../ui/fields";
import { FaultList } from "../ui/FaultList";
import { unbroken } from "../ui/format";
import { WorkingContext } from "../ui/WorkingView";
import { DecisionLine } from "./DecisionLine";
import { useOnWay } from "./useOnWay";
import { KeysSheet, useKeys } from "./keys";
import { NextThing } from "./NextThing";
import { Rail } from "./Rail";
import { StaleSheet } from "./StaleSheet";
import { later } from "./later";
import { GROUPS, Saved, GroupSwitch, StateSwitch, Tools, RopeLeft } from "./SheetHead";
import { Region } from "../ui/Region";

// A stage's own script comes when the stage is opened.
const AnchorsStage = later(async () => (await import("../stages/anchors/AnchorsStage")).AnchorsStage);
const CheckPage = later(async () => (await import("../stages/check/CheckPage")).CheckPage);
const LogPage = later(async () => (await import("../stages/log/LogPage")).LogPage);
const BuysMost = later(async () => (await import("../stages/lines/BuysMost")).BuysMost);
const WayStage = later(async () => (await import("../stages/lines/WayStage")).WayStage);
const SizeUp = later(async () => (await import("../stages/sizeup/SizeUp")).SizeUp);

interface Props {
  session: Session;
  catalogue: Catalogue;
}

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
  const left = useQuery({ queryKey: ["kept", id], queryFn: () => readKept(id), gcTime: 0, staleTime: Infinity });
  if (plan.data && !plan.isFetching && left.data !== undefined)
    return <Sheet {...props} plan={plan.data} left={left.data} key={plan.data.id} />;
  return (
    <main className="p-8 text-lg">
      {plan.failureCount
        ? `◆ ${wrongOf(plan.failureReason, "The server can not be reached.")} Trying again. `
        : "Opening. "}
      <Link to="/plans" className="underline">
        Back to the plans
      </Link>
    </main>
  );
}

function Sheet({ plan, left, session, catalogue }: Props & { plan: Plan; left: Kept | null }) {
  const { stage = "lines" } = useParams();
  const go = useNavigate();
  const [asked, ask] = useState<string | null>(null);
  const onWay = useOnWay(stage);
  const [bestShown, showBest] = useState(false);
  const open = useOpenPlan(plan, left, stage === "anchors", asked, onWay.on ? onWay.run : null);
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
  });
  useNews(plan.id);
  const decided = useDecided(plan.id, open.document, open.canEdit);
  const edits = useHaulEdits(open, catalogue);
  const lines = useLineEdits(open);
  const { report, whole, document } = open;
  const state =
    report?.states.find((one) => one.id === asked) ?? report?.states.find((one) => one.id === report.opens_in) ?? null;
  const stateId = state?.id ?? "held";
  // From the first report on, the state that is looked at stays until another is asked for.
  if (asked === null && report) ask(report.opens_in);
  const holds = useHolds(document, stateId, gone, stage === "check");
  const check = useCheck(document, plan.id, stage === "check");
  const way = useWay(document, onWay.on, onWay.tight);
  const job = way?.jobs.find((one) => one.job === (state?.group === "lower" ? "lowering" : "raising")) ?? way?.jobs[0];
  const { sought, goTo } = onWay;
  useEffect(() => {
    if (sought === null || !way || onWay.tight) return;
    const near = way.places.reduce(
      (best, one, index) => (Math.abs(one.run_m - sought) < Math.abs(way.places[best]!.run_m - sought) ? index : best),
      0,
    );
    goTo(near, way.places[near]!.run_m);
  }, [sought, way, goTo, onWay.tight]);
  const seek = (state: string, run: number) => {
    show(state);
    void go(`/plans/${plan.id}/lines`);
    onWay.seek(run);
  };
  const turnWay = () => {
    const on = !onWay.on;
    onWay.turn(on);
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
            {stage === "log" ? (
              <Region name="The log" of={document}>
                <LogPage open={open} />
              </Region>
            ) : stage === "check" ? (
              <Region name="The check" of={check}>
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
                  onPlace={seek}
                />
              </Region>
            ) : (
              <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_clamp(310px,30vw,380px)] max-md:block max-md:overflow-y-auto">
                <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-col bg-sheet">
                  <NextThing whole={whole} planId={plan.id} onOpen={doNext} />
                  {stage === "anchors" ? (
                    <Region name="Anchors" of={document}>
                      <AnchorsStage
                        open={open}
                        catalogue={catalogue}
                        state={stateId}
                        pointedAt={pointedAt}
                        onPointed={() => pointAt(null)}
                      />
                    </Region>
                  ) : (
                    <div
                      className={`grid min-h-0 min-w-0 flex-1 max-md:min-h-[760px] ${onWay.on ? ON_WAY : hung ? HUNG : stage === "size-up" ? HALVES : STACKED}`}
                    >
                      <div className="flex min-h-0 flex-col">
                        <div className="flex flex-wrap items-center justify-between gap-x-4 px-4">
                          <h2 className="font-semibold">Section along the fall line</h2>
                          {stage === "lines" && mainOrHaul(document) ? (
                            <button type="button" className="button px-3!" aria-pressed={onWay.on} onClick={turnWay}>
                              {onWay.on ? "Back to the bench" : "The whole way"}
                            </button>
                          ) : null}
                          {report && state ? <StateSwitch report={report} state={state} onState={show} /> : null}
                          {stage === "size-up" ? <RopeLeft open={open} /> : null}
                        </div>
                        {holds?.text && stage === "lines" && !(onWay.on && onWay.tight) ? (
                          <p className="px-4 text-[16px] leading-snug" data-testid="holds" aria-live="polite">
                            <b>{state?.name}</b>: {holds.text[0]?.toLowerCase()}
                            {unbroken(holds.text.slice(1))}
                          </p>
                        ) : null}
                        {holds?.gone ? <Gone gone={holds.gone} onBack={() => setGone(null)} /> : null}
                        <FaultList open={open} />
                        <div className="flex min-h-0 flex-1">
                          <Region name="The section" of={report}>
                            <Section
                              document={onWay.on ? at(document, way?.places[onWay.place]) : document}
                              report={onWay.on && onWay.tight ? null : report}
                              state={onWay.on && onWay.tight ? null : state}
                              span={onWay.on && onWay.tight && way ? way.ends : null}
                              gone={onWay.on ? null : (holds?.gone ?? null)}
                              shaping={stage === "size-up"}
                              canEdit={open.canEdit && !onWay.on}
                              onEdit={open.edit}
                              onStrand={(strand) => setTouched({ what: "strand", id: strand.id })}
                              onEdge={(crossing) => setTouched({ what: "crossing", id: crossing.id })}
                            />
                          </Region>
                          {stage === "lines" && !onWay.on && liesAside(document) ? (
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
                        {onWay.on ? (
                          way && job ? (
                            <Region name="The way" of={way}>
                              <WayStage
                                way={way}
                                job={job}
                                place={Math.min(onWay.place, way.places.length - 1)}
                                onPlace={(to) => onWay.goTo(to, way.places[to]?.run_m ?? null)}
                                open={open}
                                catalogue={catalogue}
                                line={onWay.tight}
                                onLine={onWay.along}
                              />
                            </Region>
                          ) : (
                            <p role="status" className="p-4">
                              Working out the whole way.
                            </p>
                          )
                        ) : stage === "size-up" ? (
                          <Region name="Size-up" of={document}>
                            <SizeUp open={open} catalogue={catalogue} lines={lines} />
                          </Region>
                        ) : (
                          <Region name="The bench" of={report}>
                            <LinesStage
                              open={open}
                              catalogue={catalogue}
                              state={state}
                              edits={edits}
                              lines={lines}
                              onTouch={setTouched}
                              onChoose={choose}
                              onTension={onWay.along}
                            />
                          </Region>
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
                      onMade={decided.consider}
                    />
                  ) : state && whole ? (
                    <Region name="The load path" of={state}>
                      <LoadPath
                        state={state}
                        rule={whole.rule}
                        findings={findings}
                        onRung={(rung) => setTouched({ what: "rung", id: rung.id })}
                        onBest={stage === "lines" && mainOrHaul(document) ? () => showBest(true) : null}
                      />
                    </Region>
                  ) : (
                    <p className="p-4">Working it out.</p>
                  )}
                  <p className="border-t border-line px-4 py-2 font-label text-[15px] text-quiet">
                    {report?.caution ?? session.caution}
                  </p>
                </aside>
              </div>
            )}
          </div>
          <DecisionLine
            open={open}
            log={log.data?.entries ?? []}
            field={decision}
            offer={decided.offer}
            onRecorded={decided.settle}
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
              decided.consider(others);
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

/** A part taken away to see what then holds. */
function Gone({ gone, onBack }: { gone: NonNullable<Holds["gone"]>; onBack: () => void }) {
  const falls = gone.further_m === null;
  return (
    <div role="status" className="mx-3 flex items-center gap-3 border-l-4 border-over bg-tint px-3" data-testid="gone">
      <p className={`flex-1 text-[17px] leading-snug ${falls ? "font-semibold text-over" : ""}`}>
        {falls ? "◆" : "◇"} {unbroken(gone.text)}
      </p>
      <button type="button" className="button my-1" onClick={onBack}>
        Put it back
      </button>
    </div>
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
