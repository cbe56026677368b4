/** The work sheet: rail, section, bench or ledger, load path, decision line. */
import { Radio, RadioGroup } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api } from "../api/client";
import type { Catalogue, Phase, Plan, Session } from "../api/types";
import { Section } from "../drawing/Section";
import { LoadPath } from "../ladder/LoadPath";
import { useOpenPlan, type OpenPlan } from "../plan/usePlan";
import { AnchorsStage } from "../stages/anchors/AnchorsStage";
import { LinesStage } from "../stages/lines/LinesStage";
import { Inspector, type Touched } from "../stages/lines/Inspector";
import { useHaulEdits } from "../stages/lines/useHaulEdits";
import { LogPage } from "../stages/log/LogPage";
import { SizeUp } from "../stages/sizeup/SizeUp";
import { FaultContext } from "../ui/fields";
import { FaultList } from "../ui/FaultList";
import { clock, spanned } from "../ui/format";
import { DecisionLine } from "./DecisionLine";
import { KeysSheet, useKeys } from "./keys";
import { Rail } from "./Rail";
import { useSettings, type ForceUnit } from "./settings";
import { StaleSheet } from "./StaleSheet";

interface Props {
  session: Session;
  catalogue: Catalogue;
}

const PHASES: { id: Phase; name: string; key: string }[] = [
  { id: "hold", name: "Hold", key: "1" },
  { id: "lower", name: "Lower", key: "2" },
  { id: "raise", name: "Raise", key: "3" },
  { id: "jam", name: "Jam", key: "4" },
];

export function WorkSheet(props: Props) {
  const { id = "" } = useParams();
  const plan = useQuery({ queryKey: ["plan", id], queryFn: async () => answered(await api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id } } })), staleTime: 0, gcTime: 0, refetchOnWindowFocus: false, refetchOnReconnect: false, retry: true, retryDelay: 2000 });
  if (plan.data && !plan.isFetching) return <Sheet {...props} plan={plan.data} key={plan.data.id} />;
  return (
    <p className="p-8 text-lg">
      {plan.failureCount ? `◆ ${plan.failureReason?.message ?? "The server can not be reached"}. Trying again. ` : "Opening. "}
      <Link to="/plans" className="underline">
        Back to the plans
      </Link>
    </p>
  );
}

function Sheet({ plan, session, catalogue }: Props & { plan: Plan }) {
  const { stage = "lines" } = useParams();
  const go = useNavigate();
  const open = useOpenPlan(plan, stage === "anchors");
  const [phaseId, setPhase] = useState<Phase>("raise");
  const [touched, setTouched] = useState<Touched | null>(null);
  const [keysShown, showKeys] = useState(false);
  const decision = useRef<HTMLInputElement>(null);
  const log = useQuery({ queryKey: ["log", plan.id], queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan.id } } })), refetchInterval: 5000 });
  const edits = useHaulEdits(open, catalogue);
  const { report, document } = open;
  const phase = report?.phases[phaseId] ?? null;
  const close = () => setTouched(null);
  useKeys({
    d: () => decision.current?.focus(),
    s: () => void go(`/plans/${plan.id}/size-up`),
    a: () => void go(`/plans/${plan.id}/anchors`),
    l: () => void go(`/plans/${plan.id}/lines`),
    g: () => void go(`/plans/${plan.id}/log`),
    "?": () => showKeys(true),
    ...Object.fromEntries(PHASES.map((one) => [one.key, () => setPhase(one.id)])),
  });
  const findings = useMemo(() => [...(phase?.findings ?? []), ...(report?.findings ?? [])].sort((a, b) => "stop look note".indexOf(a.level) - "stop look note".indexOf(b.level)), [phase, report]);

  return (
    <FaultContext value={open.faults}>
      <div className="grid h-full min-h-[560px] grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
        <header className="flex flex-wrap items-center gap-x-4 border-b border-line bg-sheet pl-4">
          <div className="flex min-w-0 flex-1 items-baseline gap-x-3 max-md:basis-full max-md:flex-wrap max-md:pt-1">
            <h1 className="truncate text-lg font-semibold">{document.title}</h1>
            <Saved open={open} />
          </div>
          {stage !== "log" ? <PhaseSwitch phase={phaseId} onPhase={setPhase} /> : null}
          <Tools session={session} onKeys={() => showKeys(true)} />
        </header>
        <div className="grid min-h-0 grid-cols-[84px_minmax(0,1fr)] lg:grid-cols-[100px_minmax(0,1fr)]">
          <Rail plan={plan} stage={stage} report={report} />
          {stage === "log" ? (
            <LogPage open={open} log={log.data ?? []} offline={log.isError} />
          ) : (
            <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_clamp(310px,30vw,380px)] max-md:block max-md:overflow-y-auto">
              {stage === "anchors" ? (
                <AnchorsStage open={open} catalogue={catalogue} phase={phaseId} />
              ) : (
              <div className={`grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] bg-sheet max-md:h-[720px] ${stage === "size-up" ? "grid-rows-2" : "grid-rows-[minmax(190px,1fr)_minmax(50%,max-content)]"}`}>
                <div className="flex min-h-0 flex-col">
                  <div className="flex items-baseline justify-between gap-4 px-4 pt-2">
                    <h2 className="font-semibold">Section along the fall line</h2>
                    <RopeLeft open={open} />
                  </div>
                  <FaultList open={open} />
                  <Section
                    document={document}
                    report={report}
                    phase={phase}
                    shaping={stage === "size-up"}
                    canEdit={open.canEdit}
                    onEdit={open.edit}
                    onStrand={(strand) => setTouched({ what: "strand", id: strand.id })}
                    onEdge={(crossing) => setTouched({ what: "crossing", id: crossing.id })}
                  />
                </div>
                <div className="flex min-h-0 flex-col overflow-y-auto border-t-4 border-film">
                  {stage === "size-up" ? (
                    <SizeUp open={open} catalogue={catalogue} />
                  ) : (
                    <LinesStage open={open} catalogue={catalogue} phase={phase} edits={edits} onTouch={setTouched} />
                  )}
                </div>
              </div>
              )}
              <aside className="min-h-0 overflow-y-auto border-l-2 border-line bg-sheet" tabIndex={-1}>
                {phase ? <LoadPath phase={phase} findings={findings} onRung={(rung) => setTouched({ what: "rung", id: rung.id })} /> : <p className="p-4">Working it out.</p>}
                <p className="border-t border-line px-4 py-2 font-label text-[15px] text-quiet">{report?.caution ?? session.caution}</p>
              </aside>
            </div>
          )}
        </div>
        <DecisionLine open={open} log={log.data ?? []} field={decision} />
      </div>
      {touched && report && phase ? <Inspector touched={touched} open={open} report={report} phase={phase} catalogue={catalogue} edits={edits} onClose={close} /> : null}
      {open.stale ? <StaleSheet open={open} stale={open.stale} /> : null}
      {keysShown ? <KeysSheet onClose={() => showKeys(false)} /> : null}
    </FaultContext>
  );
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
    <p role="status" data-saving={open.saving} className={`font-label md:whitespace-nowrap ${loud ? "bg-over px-2 py-1 font-semibold text-sheet" : "text-quiet"}`}>
      {words}
      {open.canEdit ? "" : " (you read only)"}
    </p>
  );
}

function PhaseSwitch({ phase, onPhase }: { phase: Phase; onPhase: (phase: Phase) => void }) {
  return (
    <RadioGroup value={phase} onChange={onPhase} aria-label="Phase" className="flex gap-1 py-0.5">
      {PHASES.map((one) => (
        <Radio key={one.id} value={one.id} className="flex min-h-11 min-w-16 cursor-pointer items-center justify-center rounded-[3px] px-3 data-checked:bg-ink data-checked:font-semibold data-checked:text-sheet">
          {one.name}
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
      <button type="button" className={plain} aria-label={`Units: ${settings.force} and ${settings.length}. Change to ${next}`} onClick={() => set({ force: next, length: next === "lbf" ? "ft" : "m" })}>
        {settings.force}
      </button>
      <button type="button" className={plain} onClick={() => set({ night: !settings.night })}>
        {settings.night ? "Day" : "Night"}
      </button>
      <button type="button" className={plain} onClick={onKeys} aria-label="Keys">
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
  return (
    <p className={short ? "font-semibold text-over" : "font-label"} data-testid="rope-left">
      {short ? "◆ " : ""}rope {length(worst.length)}, {length(worst.needed)} to {worst.job}: {short ? `${length({ ...worst.left, expected: -worst.left.expected, low: -worst.left.high, high: -worst.left.low })} short` : `${length(worst.left)} left`}
    </p>
  );
}
