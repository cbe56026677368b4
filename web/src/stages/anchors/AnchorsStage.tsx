/** Anchors: the ground from above and from the side, the arrangement that is looked at, and what there is to tie to. */
import { Radio, RadioGroup, Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useState } from "react";
import type { ArrangementReport, Catalogue, Phase } from "../../api/types";
import { useSettings } from "../../app/settings";
import { AnchorPlan } from "../../drawing/AnchorPlan";
import { AnchorSide } from "../../drawing/AnchorSide";
import type { OpenPlan } from "../../plan/usePlan";
import { FindingList } from "../../ladder/LoadPath";
import { FiguresSheet } from "../../ui/FiguresSheet";
import { FaultList } from "../../ui/FaultList";
import { Candidates } from "./Candidates";
import { ChooseSheet } from "./ChooseSheet";
import { Compare } from "./Compare";
import { FeatureSheet } from "./FeatureSheet";
import { LegsLedger } from "./LegsLedger";
import { Survey } from "./Survey";
import { useAnchorEdits } from "./useAnchorEdits";
import { useAnchors } from "./useAnchors";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  phase: Phase;
}

const COMPARE = 2;
const SURVEY = 3;

export function AnchorsStage({ open, catalogue, phase }: Props) {
  const { document, canEdit } = open;
  const edits = useAnchorEdits(open);
  const [shownId, show] = useState(document.in_use);
  const [tab, setTab] = useState(0);
  const [gone, setGone] = useState<number | null>(null);
  const [feature, openFeature] = useState<string | null>(null);
  const [working, setWorking] = useState<"gone" | "whole" | null>(null);
  const [choosing, choose] = useState<string | null>(null);
  const arrangement = document.arrangements.find((one) => one.id === shownId) ?? document.arrangements[0]!;
  const { answer: anchors, faults } = useAnchors(document, phase, tab === COMPARE ? null : arrangement.id);
  const report = anchors?.arrangements.find((one) => one.id === arrangement.id) ?? null;
  const touched = document.features.find((one) => one.id === feature);
  const look = (id: string) => {
    show(id);
    setGone(null);
  };
  const movePoint = (to: { x_m?: number; y_m?: number; z_m?: number }) => edits.arrangement(arrangement.id, (old) => ({ ...old, point: { ...old.point, ...to } }));
  const turnPull = (heading: number) => edits.arrangement(arrangement.id, (old) => (old.pull ? { ...old, pull: { ...old.pull, heading_rad: turned(heading) } } : { ...old, heading_rad: turned(heading) }));
  const tie = (id: string) => edits.addLeg(arrangement.id, id);
  const removal = gone === null ? null : report?.removals.find((one) => one.leg === gone);
  return (
    <div className={`grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] ${tab === COMPARE ? "grid-rows-[auto_minmax(0,1fr)]" : tab === SURVEY ? "grid-rows-[minmax(240px,1fr)_minmax(280px,1.2fr)]" : "grid-rows-[minmax(320px,1.45fr)_minmax(230px,1fr)]"} bg-sheet max-md:h-[1000px]`}>
      <div className="flex min-h-0 flex-col">
        <Shelf open={open} shownId={arrangement.id} report={report} onShow={look} onDrop={() => { look(document.in_use); edits.drop(arrangement.id); }} onAdd={(copy) => look(edits.add(copy ? `${arrangement.name}, changed` : `Arrangement ${document.arrangements.length + 1}`, copy ? arrangement : firstTwo(document.features)))} />
        <FaultList open={open} />
        <div className={`flex min-h-0 flex-1 ${tab === COMPARE ? "hidden" : ""}`}>
          <AnchorPlan document={document} arrangement={arrangement} report={report} features={anchors?.features ?? []} gone={gone} canEdit={canEdit} onGone={setGone} onFeature={openFeature} onMoveFeature={edits.feature} onMovePoint={movePoint} onTurnPull={turnPull} />
          <div className="flex w-[34%] min-w-[240px] border-l border-line max-lg:hidden">
            <AnchorSide document={document} arrangement={arrangement} report={report} gone={gone} canEdit={canEdit} onMovePoint={movePoint} />
          </div>
        </div>
        {removal ? (
          <div role="status" className="flex items-center gap-3 border-t border-over bg-tint px-4 py-1" data-testid="what-if">
            <p className={`flex-1 text-[17px] leading-snug ${removal.outcome === "holds" ? "" : "font-semibold text-over"}`}>
              {removal.outcome === "holds" ? "■" : removal.outcome === "gives" || removal.outcome === "nothing" ? "◆" : "◇"} {removal.text}
            </p>
            <button type="button" className="min-h-11 px-2 font-label underline" onClick={() => setWorking("gone")}>
              working
            </button>
            <button type="button" className="button" onClick={() => setGone(null)}>
              Put it back
            </button>
          </div>
        ) : null}
        {report && !report.available ? (
          <p role="alert" className="border-t border-over bg-tint px-4 py-1 text-[17px] font-semibold text-over">
            ◆ {report.why_not[0]?.toUpperCase() + report.why_not.slice(1)}. What you drew is kept.
          </p>
        ) : null}
        {faults.length && !open.faults.length ? (
          <p role="alert" className="px-4 text-over">
            {faults.map((fault) => `◆ ${fault.path}: ${fault.problem}; ${fault.right}`).join(" ")}
          </p>
        ) : null}
      </div>
      <TabGroup selectedIndex={tab} onChange={setTab} className="flex min-h-0 flex-col border-t-4 border-film">
        <TabList className="flex flex-wrap gap-1 border-b border-line px-3 pt-1">
          {["Legs", "Candidates", "Compare", "Survey", "Look at"].map((name) => (
            <Tab key={name} className="min-h-11 border-b-4 border-transparent px-3 data-selected:border-over data-selected:font-semibold">
              {name}
              {name === "Look at" && report?.findings.length ? ` (${report.findings.length})` : ""}
            </Tab>
          ))}
          <button type="button" className="button my-0.5 ml-auto px-3!" disabled={!open.canLog} onClick={() => choose(arrangement.id)} aria-label="Log this choice">
            Log it
          </button>
        </TabList>
        <TabPanels className="min-h-0 flex-1 overflow-y-auto px-4 py-1.5">
          <TabPanel tabIndex={-1}>
            <LegsLedger document={document} arrangement={arrangement} report={report} anchors={anchors} catalogue={catalogue} canEdit={canEdit} edits={edits} onWorking={() => setWorking("whole")} />
          </TabPanel>
          <TabPanel tabIndex={-1}>
            <Candidates document={document} features={anchors?.features ?? []} catalogue={catalogue} canEdit={canEdit} onOpen={openFeature} onTie={tie} />
          </TabPanel>
          <TabPanel tabIndex={-1}>
            <Compare document={document} anchors={anchors} canEdit={canEdit} canLog={open.canLog} onShow={(id) => { look(id); setTab(0); }} onUse={edits.use} onLog={choose} />
          </TabPanel>
          <TabPanel tabIndex={-1}>
            <Survey open={open} catalogue={catalogue} edits={edits} onPlaced={openFeature} />
          </TabPanel>
          <TabPanel tabIndex={-1}>{report ? <FindingList findings={report.findings} label="What to look at" /> : null}</TabPanel>
        </TabPanels>
      </TabGroup>
      {touched && anchors ? (
        <FeatureSheet
          feature={touched}
          index={document.features.indexOf(touched)}
          report={anchors.features.find((one) => one.id === touched.id)}
          anchors={anchors}
          catalogue={catalogue}
          canEdit={canEdit}
          inUse={document.arrangements.some((one) => one.legs.some((leg) => leg.feature === touched.id))}
          onChange={(change) => edits.feature(touched.id, change)}
          onRemove={() => { openFeature(null); edits.dropFeature(touched.id); }}
          onClose={() => openFeature(null)}
        />
      ) : null}
      {working && report && anchors ? (
        <FiguresSheet
          title={working === "gone" && removal ? `${removal.name} goes` : report.name}
          figures={working === "gone" && removal ? [removal.moved, removal.peak, removal.peak_on_leg, ...removal.forces] : wholeFigures(report)}
          report={anchors}
          catalogue={catalogue}
          onClose={() => setWorking(null)}
        />
      ) : null}
      {choosing ? <ChooseSheet open={open} anchors={anchors} id={choosing} onUse={edits.use} onClose={() => choose(null)} /> : null}
    </div>
  );
}

function wholeFigures(report: ArrangementReport) {
  const { pull, movement, prop, sweep, gather, span, cost } = report;
  return [pull, sweep?.worst, movement, prop, span?.span, span?.sag, span?.tension, span?.slips_at, ...(gather ? [...gather.lengths, ...gather.forces, gather.per_cm] : []), cost?.minutes];
}

/** The heading kept between half turns, to the degree. */
function turned(heading: number): number {
  const degrees = Math.round((heading * 180) / Math.PI);
  return ((((degrees + 540) % 360) - 180) * Math.PI) / 180;
}

function firstTwo(features: { id: string; verdict?: string | null }[]): string[] {
  return features.filter((one) => one.verdict !== "reject").slice(0, 2).map((one) => one.id);
}

/** The saved arrangements, and the one that the line runs from. */
function Shelf({ open, shownId, report, onShow, onAdd, onDrop }: { open: OpenPlan; shownId: string; report: ArrangementReport | null; onShow: (id: string) => void; onAdd: (copy: boolean) => void; onDrop: () => void }) {
  const [settings] = useSettings();
  const { document } = open;
  const full = document.arrangements.length >= 4;
  return (
    <div className="flex flex-wrap items-center gap-x-2 px-3 pt-1">
      <h2 className="sr-only">Anchors from above and from the side</h2>
      <RadioGroup value={shownId} onChange={onShow} aria-label="Arrangement" className="flex min-w-0 flex-1 flex-wrap gap-1">
        {document.arrangements.map((one) => (
          <Radio key={one.id} value={one.id} className="flex min-h-11 cursor-pointer items-center gap-1.5 border-b-4 border-transparent px-2 data-checked:border-ink data-checked:font-semibold">
            {one.name}
            {one.id === document.in_use ? <span className="bg-ink px-1 font-label text-[14px] font-normal text-sheet">in use</span> : null}
          </Radio>
        ))}
      </RadioGroup>
      <button type="button" className="button px-2.5! font-normal!" disabled={!open.canEdit || full} title={full ? "Four are kept at most" : ""} onClick={() => onAdd(true)}>
        Copy
      </button>
      <button type="button" className="button px-2.5! font-normal!" disabled={!open.canEdit || full} title={full ? "Four are kept at most" : ""} onClick={() => onAdd(false)}>
        New
      </button>
      <button type="button" className="button px-2.5! font-normal!" disabled={!open.canEdit || shownId === document.in_use} title={shownId === document.in_use ? "The line runs from it" : ""} onClick={onDrop}>
        Discard
      </button>
      <span className="sr-only" aria-live="polite">
        {report?.available ? `${report.name}, ${settings.force}` : ""}
      </span>
    </div>
  );
}
