/** The work sheet: head, what to do now, the drawing with the load path at its margin, what is drawn up from below, stages. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../device/client";
import { haulingLine, mainLine } from "../plan/document";
import { AtTable } from "../plan/AtTable";
import type { OpenPlan } from "../plan/usePlan";
import type { What } from "../ui/ChoiceSheet";
import { FaultContext } from "../ui/faultContext";
import { useKeys } from "../ui/keys";
import { LedContext } from "../ui/led";
import { Region } from "../ui/Region";
import { useSettings } from "../ui/settings";
import { useTaps } from "../ui/useTaps";
import { Since } from "../ui/Since";
import { WorkingContext } from "../ui/workingContext";
import { Margin } from "../ladder/Margin";
import { Decision } from "./Decision";
import { Drawn } from "./Drawn";
import { later } from "../ui/later";
import { Now } from "./Now";
import { GROUPS, SheetHead } from "./SheetHead";
import { Stages } from "./Stages";
import { useSheet, type OnSheet, type SheetProps } from "./useSheet";

// What is opened comes when it is opened.
const AnchorsStage = later(async () => (await import("../stages/anchors/AnchorsStage")).AnchorsStage);
const CheckPage = later(async () => (await import("../stages/check/CheckPage")).CheckPage);
const BestPage = later(async () => (await import("../stages/best/BestPage")).BestPage);
const LogPage = later(async () => (await import("../stages/log/LogPage")).LogPage);
const PathOpened = later(async () => (await import("./PathOpened")).PathOpened);
const Inspector = later(async () => (await import("../stages/lines/Inspector")).Inspector, null);
const ChoiceSheet = later(async () => (await import("../ui/ChoiceSheet")).ChoiceSheet, null);
const StaleSheet = later(async () => (await import("../plan/StaleSheet")).StaleSheet, null);
const KeysSheet = later(async () => (await import("../ui/KeysSheet")).KeysSheet, null);
const AskSheet = later(async () => (await import("../stages/lines/AskSheet")).AskSheet, null);
const MoreSheet = later(async () => (await import("./MoreSheet")).MoreSheet, null);

export type Over = "more" | "keys" | "ask" | null;

export function Sheet(props: SheetProps) {
  const sheet = useSheet(props);
  const { plan, stage, to, open, state, report, whole, findings, decided } = sheet;
  const [settings, set] = useSettings();
  const [bestShown, showBest] = useState(false);
  const [deciding, decide] = useState(false);
  const [over, lay] = useState<Over>(null);
  const log = useQuery({
    queryKey: ["log", plan.id],
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan.id } } })),
  });
  const best = bestShown && stage === "lines";
  const pathOpen = settings.pathOpen || best;
  const openPath = (pathOpen: boolean) => {
    showBest(false);
    set({ pathOpen });
  };
  useKeys({
    d: () => decide(true),
    s: () => to("size-up"),
    a: () => to("anchors"),
    l: () => to("lines"),
    o: () => to("best"),
    c: () => to("check"),
    w: sheet.turnWay,
    b: () => showBest(!bestShown),
    p: () => openPath(!pathOpen),
    q: () => lay("ask"),
    "Control z": () => open.undo?.(),
    "Control Shift z": () => open.redo?.(),
    "Control y": () => open.redo?.(),
    r: () => to("run"),
    g: () => to("log"),
    "?": () => lay("keys"),
    ...Object.fromEntries(GROUPS.map((one) => [one.key, () => sheet.showGroup(one.id)])),
  });
  const taps = useTaps({ 2: () => open.undo?.(), 3: () => open.redo?.() });
  const drawn = !["log", "check", "best"].includes(stage);
  return (
    <FaultContext value={open.faults}>
      <WorkingContext value={sheet.about}>
        <LedContext value={sheet.pointedAt}>
          <div className="flex h-full min-h-[480px] flex-col bg-sheet" {...taps}>
            {plan.table_top ? <AtTable plan={plan.id} leads={plan.team.role === "leader"} /> : null}
            <SheetHead
              open={open}
              group={stage === "log" || stage === "best" || sheet.alone ? null : (state?.group ?? "raise")}
              onGroup={sheet.showGroup}
              onMore={() => lay("more")}
            />
            {drawn ? (
              <Region name="What to do now" of={report}>
                <Told sheet={sheet} deciding={deciding} onPath={() => openPath(true)} onDecide={() => decide(true)} />
              </Region>
            ) : null}
            <div className="flex min-h-0 flex-1 hand-left:flex-row-reverse">
              {stage === "log" ? (
                <Region name="The log" of={open.document}>
                  <LogPage open={open} />
                </Region>
              ) : stage === "best" ? (
                <Region name="The best rigs" of={open.document}>
                  <BestPage open={open} onMade={decided.consider} onCheck={() => to("check")} />
                </Region>
              ) : stage === "check" ? (
                <Region name="The check" of={sheet.found}>
                  <CheckPage
                    open={open}
                    found={sheet.found}
                    holds={sheet.holds}
                    state={state}
                    me={sheet.session.username}
                    onState={sheet.show}
                    onGone={sheet.takeAway}
                    onPlace={sheet.seek}
                  />
                </Region>
              ) : (
                <>
                  <main tabIndex={-1} className="flex min-h-0 min-w-0 flex-1 flex-col">
                    {stage === "anchors" ? (
                      <Region name="Anchors" of={open.document}>
                        <AnchorsStage
                          open={open}
                          catalogue={sheet.catalogue}
                          state={sheet.stateId}
                          pointedAt={sheet.pointedAt}
                          onPointed={() => sheet.pointAt(null)}
                        />
                      </Region>
                    ) : (
                      <Drawn sheet={sheet} onAsk={() => lay("ask")} />
                    )}
                  </main>
                  {sheet.alone ? null : (
                    <aside
                      aria-label={best ? "Changes" : "Load path"}
                      className={`min-h-0 flex-none border-l-2 border-line bg-sheet hand-left:border-r-2 hand-left:border-l-0 ${pathOpen ? PATH_OPEN : "w-[5.2rem] narrow:w-16"}`}
                    >
                      <Region name="The load path" of={state}>
                        {!state || !whole ? (
                          <p className="p-2 font-label">
                            <Since>Working it out.</Since>
                          </p>
                        ) : pathOpen ? (
                          <PathOpened sheet={sheet} best={best} onBest={showBest} onClose={() => openPath(false)} />
                        ) : (
                          <Margin state={state} findings={findings} onOpen={() => openPath(true)} />
                        )}
                      </Region>
                    </aside>
                  )}
                </>
              )}
            </div>
            <footer className="relative border-t-2 border-ink bg-film">
              <div className="flex items-stretch gap-2 narrow:flex-wrap-reverse narrow:gap-0 hand-left:flex-row-reverse">
                <Stages
                  plan={plan}
                  stage={stage}
                  whole={whole}
                  found={sheet.found}
                  log={{ entries: log.data?.entries.length ?? 0, unsent: open.waitingEntries.length }}
                />
                <Decision
                  open={open}
                  log={log.data?.entries ?? []}
                  shown={deciding}
                  onShow={decide}
                  offer={decided.offer}
                  onRecorded={decided.settle}
                />
              </div>
              <p className="bg-sheet px-4 font-label text-mark text-quiet narrow:hidden">{sheet.caution}</p>
            </footer>
          </div>
          <Laid sheet={sheet} over={over} onOver={lay} />
        </LedContext>
      </WorkingContext>
    </FaultContext>
  );
}

const PATH_OPEN =
  "w-[clamp(310px,30vw,380px)] overflow-y-auto narrow:absolute narrow:inset-0 narrow:z-20 narrow:w-full narrow:border-l-0";

interface ToldProps {
  sheet: OnSheet;
  deciding: boolean;
  onPath: () => void;
  onDecide: () => void;
}

/** What holds in the state that is shown, and what to do now. */
function Told({ sheet, deciding, onPath, onDecide }: ToldProps) {
  const { stage, state, holds, onWay } = sheet;
  return (
    <div className={`flex flex-col justify-center ${stage === "lines" ? "min-h-12 narrow:min-h-14" : ""}`}>
      <Now
        whole={sheet.whole}
        found={sheet.found}
        state={state}
        offer={deciding ? null : sheet.decided.offer}
        onNext={sheet.doNext}
        onPlace={sheet.seek}
        onCheck={() => sheet.to("check")}
        onPath={onPath}
        onDecide={onDecide}
      />
      {state && holds?.text && stage === "lines" && !(onWay.on && onWay.tight) ? (
        <p className="px-4 leading-snug narrow:px-2.5" data-testid="holds" aria-live="polite">
          <b>{state.name}</b>: {holds.text[0]?.toLowerCase()}
          {holds.text.slice(1)}
        </p>
      ) : null}
    </div>
  );
}

/** What is laid over the sheet: a part touched, a choice worked out, keys, what else there is, somebody's save in between. */
function Laid({ sheet, over, onOver }: { sheet: OnSheet; over: Over; onOver: (over: Over) => void }) {
  const { open, report, state, touched, choosing, document } = sheet;
  return (
    <>
      {touched && report && state ? (
        <Inspector
          touched={touched}
          open={open}
          report={report}
          state={state}
          catalogue={sheet.catalogue}
          edits={sheet.edits}
          lines={sheet.lines}
          onGone={sheet.setGone}
          onClose={() => sheet.touch(null)}
        />
      ) : null}
      {choosing ? (
        <ChoiceSheet
          what={choosing}
          document={document}
          chosen={chosenOf(choosing, document)}
          onChoose={(choice, others) => sheet.put(choosing, choice, others)}
          onClose={() => sheet.choose(null)}
        />
      ) : null}
      {open.stale ? <StaleSheet open={open} stale={open.stale} /> : null}
      {over === "keys" ? <KeysSheet onClose={() => onOver(null)} /> : null}
      {over === "ask" && state && !sheet.alone ? (
        <AskSheet
          document={document}
          state={state}
          run={sheet.onWay.on ? sheet.onWay.run : null}
          onClose={() => onOver(null)}
        />
      ) : null}
      {over === "more" ? (
        <MoreSheet
          planId={sheet.plan.id}
          caution={sheet.caution}
          username={sheet.session.username}
          onKeys={() => onOver("keys")}
          onAsk={() => onOver("ask")}
          onClose={() => onOver(null)}
        />
      ) : null}
    </>
  );
}

function chosenOf(what: What, document: OpenPlan["document"]): string | null {
  if (what === "lowering") return mainLine(document)?.lowering?.device ?? null;
  if (what === "haul") return haulingLine(document)?.haul?.system.id ?? null;
  if (what === "brake") return mainLine(document)?.lowering?.brake_hitch ?? "none";
  if (what === "grab") return haulingLine(document)?.haul?.grab ?? null;
  if (what === "capture") return haulingLine(document)?.haul?.capture ?? "none";
  const belay = (document.lines ?? []).find((one) => one.role === "belay")?.belay;
  return belay ? `${belay.holds}:${belay.what}` : null;
}
