/** What is looked at on an open plan's sheet: a stage, a state, a place of the way, a part taken away or touched. */
import { useEffect, useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Belay, Catalogue, Choice, Document, NextStep, Plan, Session, StateReport } from "../api/types";
import { rested } from "../device/opened";
import type { Kept } from "../device/queue";
import { haulingLine, mainLine } from "../plan/document";
import { edited } from "../plan/edits";
import { useCheck } from "../plan/useCheck";
import { useDecided } from "../plan/useDecided";
import { useHolds } from "../plan/useHolds";
import { useLineEdits } from "../plan/useLineEdits";
import { useOpenPlan } from "../plan/usePlan";
import { useNews } from "../plan/useNews";
import { useWay } from "../plan/useWay";
import type { Touched } from "../stages/lines/Inspector";
import { useHaulEdits } from "../stages/lines/useHaulEdits";
import type { What } from "../ui/ChoiceSheet";
import { useOnWay } from "./useOnWay";

export interface SheetProps {
  plan: Plan;
  left: Kept | null;
  session: Session;
  catalogue: Catalogue;
}

export type OnSheet = ReturnType<typeof useSheet>;

/** The next open things that are answered by a choice worked out. */
const CHOSEN: Record<string, What> = {
  lowering: "lowering",
  "brake-hitch": "brake",
  haul: "haul",
  capture: "capture",
  belay: "belay",
};
/** The state in which the next open thing is seen. */
const SEEN_IN: Record<string, string> = {
  lowering: "lowering",
  "brake-hitch": "lowering",
  haul: "raising",
  capture: "raising",
  minder: "raising",
  belay: "held",
};

const alone = (document: Document) =>
  (document.lines ?? []).length ? null : ((document.tension_lines ?? [])[0]?.id ?? null);

export function useSheet({ plan, left, session, catalogue }: SheetProps) {
  const { stage = "lines" } = useParams();
  const navigate = useNavigate();
  const to = (where: string) => void navigate(`/plans/${plan.id}/${where}`);
  const [asked, ask] = useState<string | null>(null);
  const [held, hold] = useState(() => alone(plan.latest.document));
  const onWay = useOnWay(stage, held);
  const open = useOpenPlan(plan, left, session.username, stage === "anchors", asked, onWay.on ? onWay.run : null);
  const [touched, touch] = useState<Touched | null>(null);
  const [gone, setGone] = useState<string | null>(null);
  const [choosing, choose] = useState<What | null>(null);
  const [pointedAt, pointAt] = useState<string | null>(null);
  useNews(plan.id);
  if (alone(open.document) !== held) hold(alone(open.document));
  const { report, whole, document } = open;
  const decided = useDecided(plan.id, document, open.canEdit);
  const edits = useHaulEdits(open, catalogue);
  const lines = useLineEdits(open);
  const state =
    report?.states.find((one) => one.id === asked) ?? report?.states.find((one) => one.id === report.opens_in) ?? null;
  const stateId = state?.id ?? "held";
  // From the first report on, the state that is looked at stays until another is asked for.
  if (asked === null && report) ask(report.opens_in);
  const holds = useHolds(document, state?.id ?? null, gone, stage === "check");
  const found = useCheck(document, plan.id, stage === "check");
  const way = useWay(document, onWay.on, onWay.tight);
  const { sought, goTo } = onWay;
  useEffect(() => {
    if (sought === null || !way || onWay.tight) return;
    const near = way.places.reduce(
      (best, one, index) => (Math.abs(one.run_m - sought) < Math.abs(way.places[best]!.run_m - sought) ? index : best),
      0,
    );
    goTo(near, way.places[near]!.run_m);
  }, [sought, way, goTo, onWay.tight]);
  const findings = useMemo(
    () =>
      [...(state?.findings ?? []), ...(report?.findings ?? [])].sort(
        (a, b) => "stop look note".indexOf(a.level) - "stop look note".indexOf(b.level),
      ),
    [state, report],
  );
  const about = useMemo(() => ({ document, of: "plan" as const, state: stateId }), [document, stateId]);
  const show = (id: string) => {
    setGone(null);
    ask(id);
  };
  useEffect(() => {
    if (report) rested();
  }, [report]);
  const runs = Boolean(mainLine(document)?.lowering ?? haulingLine(document)?.haul);
  return {
    plan,
    session,
    catalogue,
    stage,
    to,
    open,
    document,
    report,
    whole,
    state,
    stateId,
    holds,
    found,
    way,
    onWay,
    /** What of the way belongs to the state that is shown. */
    job: way?.jobs.find((one) => one.job === (state?.group === "lower" ? "lowering" : "raising")) ?? way?.jobs[0],
    findings,
    about,
    decided,
    edits,
    lines,
    touched,
    touch,
    setGone,
    choosing,
    choose,
    pointedAt,
    pointAt,
    /** The tension line that the load hangs on where it hangs on no line of its own. */
    alone: held,
    /** Whether a line is there that lowers or raises. */
    runs,
    caution: report?.caution ?? session.caution,
    show,
    showGroup: (group: StateReport["group"]) => {
      const all = report?.states.filter((one) => one.group === group) ?? [];
      const here = all.findIndex((one) => one.id === stateId);
      // The same key again goes on to the group's next state.
      const next = here < 0 ? (all.find((one) => one.available) ?? all[0]) : all[(here + 1) % all.length];
      if (next) show(next.id);
    },
    takeAway: (id: string, part: string | null) => {
      ask(id);
      setGone(part);
    },
    seek: (id: string, run: number) => {
      show(id);
      to("lines");
      onWay.seek(run);
    },
    turnWay: () => {
      const on = !onWay.on;
      onWay.turn(on);
      if (on && stage !== "lines") to("lines");
      if (on && stateId !== "lowering" && stateId !== "raising")
        ask(haulingLine(document)?.haul ? "raising" : "lowering");
    },
    doNext: (step: NextStep) => {
      to(step.stage);
      const chosen = CHOSEN[step.id];
      if (chosen) choose(chosen);
      const seen = SEEN_IN[step.id];
      if (seen) show(seen);
      // Asked for again it leads there again.
      pointAt(null);
      window.setTimeout(() => pointAt(step.id));
    },
    put: (what: What, choice: Choice, others: string) => {
      decided.consider(others);
      if (what === "haul") edits.take(choice.edits);
      else if (what !== "belay") open.edit((old) => edited(old, choice.edits));
      else {
        const [kind, ...rest] = choice.id.split(":");
        lines.belay({ holds: kind as Belay["holds"], what: rest.join(":"), minder: "", round_ropes: 1 });
      }
    },
  };
}
