/** Anchors: the ground from above and from the side, the arrangement that is looked at, and what there is to tie to. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useMemo, useRef, useState } from "react";
import type { Anchor, ArrangementReport, Catalogue } from "../../api/types";
import { AnchorPlan } from "../../drawing/AnchorPlan";
import { AnchorSide } from "../../drawing/AnchorSide";
import { arrangements, mainAnchor } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { FindingList } from "../../ladder/LoadPath";
import { OneOf } from "../../ui/OneOf";
import { Drawer } from "../../ui/Drawer";
import { FiguresSheet, type Labelled } from "../../ui/FiguresSheet";
import { FaultList } from "../../plan/FaultList";
import { upperFirst } from "../../ui/format";
import { Since } from "../../ui/Since";
import { WorkingContext } from "../../ui/workingContext";
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
  state: string;
  /** The next open thing, where it is one of this stage. */
  pointedAt: string | null;
  onPointed: () => void;
}

const COMPARE = 2;
const SURVEY = 3;
/** How much of the height a tab needs at least. */
const NEEDS: Record<number, number> = { [COMPARE]: 0.86, [SURVEY]: 0.52 };

export function AnchorsStage({ open, catalogue, state, pointedAt, onPointed }: Props) {
  const { document, canEdit } = open;
  const edits = useAnchorEdits(open);
  const [shownId, show] = useState(() => mainAnchor(document).taken);
  const [tab, setTab] = useState(0);
  const panels = useRef<HTMLDivElement>(null);
  const turnTo = (next: number) => {
    setTab(next);
    panels.current?.scrollTo(0, 0);
  };
  const [gone, setGone] = useState<number | null>(null);
  const [feature, openFeature] = useState<string | null>(null);
  const [working, setWorking] = useState<"gone" | "whole" | null>(null);
  const [choosing, choose] = useState<string | null>(null);
  const all = arrangements(document);
  const { arrangement, anchor, path } = all.find((one) => one.arrangement.id === shownId) ?? all[0]!;
  const { answer: anchors, faults } = useAnchors(document, state, tab === COMPARE ? null : arrangement.id);
  const led = pointedAt?.split(":") ?? [];
  if ((led[0] === "inspect" || led[0] === "judge") && anchors && feature !== led[1]) {
    openFeature(led[1] ?? null);
    onPointed();
  }
  const about = useMemo(() => ({ document, of: "anchors" as const, state }), [document, state]);
  const report = anchors?.arrangements.find((one) => one.id === arrangement.id) ?? null;
  const touched = document.features.find((one) => one.id === feature);
  const look = (id: string) => {
    show(id);
    setGone(null);
  };
  const movePoint = (to: { x_m?: number; y_m?: number; z_m?: number }) =>
    edits.arrangement(arrangement.id, (old) => ({ ...old, point: { ...old.point, ...to } }));
  const turnPull = (heading: number) =>
    edits.arrangement(arrangement.id, (old) =>
      old.pull
        ? { ...old, pull: { ...old.pull, heading_rad: turned(heading) } }
        : { ...old, heading_rad: turned(heading) },
    );
  const tie = (id: string) => edits.addLeg(arrangement.id, id);
  const removal = gone === null ? null : report?.removals.find((one) => one.leg === gone);
  return (
    <WorkingContext value={about}>
      <>
        <div className="flex min-h-0 flex-1 flex-col">
          <Shelf open={open} anchor={anchor} shownId={arrangement.id} onShow={look} />
          <FaultList open={open} />
          <div className="flex min-h-0 flex-1" data-drawing>
            <AnchorPlan
              document={document}
              arrangement={arrangement}
              report={report}
              features={anchors?.features ?? []}
              gone={gone}
              canEdit={canEdit}
              onGone={setGone}
              onFeature={openFeature}
              onMoveFeature={edits.feature}
              onMovePoint={movePoint}
              onTurnPull={turnPull}
            />
            <div className="flex w-[34%] min-w-[240px] border-l border-line max-lg:hidden">
              <AnchorSide
                document={document}
                arrangement={arrangement}
                report={report}
                gone={gone}
                canEdit={canEdit}
                onMovePoint={movePoint}
              />
            </div>
          </div>
          {removal ? (
            <div
              role="status"
              className="flex items-center gap-3 border-t border-over bg-tint px-4 py-1"
              data-testid="what-if"
            >
              <p
                className={`flex-1 text-body leading-snug ${removal.outcome === "holds" ? "" : "font-semibold text-over"}`}
              >
                {removal.outcome === "holds"
                  ? "■"
                  : removal.outcome === "gives" || removal.outcome === "nothing"
                    ? "◆"
                    : "◇"}{" "}
                {removal.text}
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
            <p role="alert" className="border-t border-over bg-tint px-4 py-1 text-body font-semibold text-over">
              ◆ {upperFirst(report.why_not)}. What you drew is kept.
            </p>
          ) : null}
          {faults.length && !open.faults.length ? (
            <p role="alert" className="px-4 text-over">
              {faults.map((fault) => `◆ ${fault.path}: ${fault.problem}; ${fault.right}`).join(" ")}
            </p>
          ) : null}
        </div>
        <Drawer name="Anchor" usual={0.38} least={NEEDS[tab] ?? 0}>
          <TabGroup selectedIndex={tab} onChange={turnTo} className="flex min-h-0 flex-1 flex-col">
            <div className="flex items-start border-b border-line px-3 pt-1">
              <TabList className="flex flex-wrap gap-1">
                {["Legs", "Candidates", "Compare", "Survey", "Look at"].map((name) => (
                  <Tab
                    key={name}
                    className="min-h-11 border-b-4 border-transparent px-3 data-selected:border-over data-selected:font-semibold"
                  >
                    {name}
                    {name === "Look at" && report?.findings.length ? ` (${report.findings.length})` : ""}
                  </Tab>
                ))}
              </TabList>
              <button
                type="button"
                className="button my-0.5 ml-auto px-3"
                disabled={!open.canLog}
                onClick={() => choose(arrangement.id)}
                aria-label="Log it: this choice"
              >
                Log it
              </button>
            </div>
            <TabPanels ref={panels} className="min-h-0 flex-1 overflow-y-auto px-4 py-1.5">
              <TabPanel tabIndex={-1}>
                {anchors || faults.length ? (
                  <LegsLedger
                    document={document}
                    path={path}
                    anchor={anchor}
                    onPlanning={(newtons) => edits.planning(anchor.id, newtons)}
                    arrangement={arrangement}
                    report={report}
                    anchors={anchors}
                    catalogue={catalogue}
                    canEdit={canEdit}
                    edits={edits}
                    onWorking={() => setWorking("whole")}
                  />
                ) : (
                  <p role="status">
                    <Since>Working it out.</Since>
                  </p>
                )}
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <Candidates
                  document={document}
                  features={anchors?.features ?? []}
                  catalogue={catalogue}
                  canEdit={canEdit}
                  onOpen={openFeature}
                  onTie={tie}
                />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <More
                  open={open}
                  anchor={anchor}
                  shownId={arrangement.id}
                  onDrop={() => {
                    look(anchor.taken);
                    edits.drop(arrangement.id);
                  }}
                  onAdd={(copy) => {
                    look(
                      edits.add(
                        anchor.id,
                        copy ? `${arrangement.name}, changed` : `Arrangement ${anchor.alternatives.length + 1}`,
                        copy ? arrangement : firstTwo(document.features),
                      ),
                    );
                    turnTo(0);
                  }}
                />
                <Compare
                  anchor={anchor}
                  anchors={anchors}
                  canEdit={canEdit}
                  canLog={open.canLog}
                  onShow={(id) => {
                    look(id);
                    turnTo(0);
                  }}
                  onUse={edits.use}
                  onLog={choose}
                />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <Survey open={open} catalogue={catalogue} edits={edits} onPlaced={openFeature} />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                {report ? <FindingList findings={report.findings} label="What to look at" /> : null}
              </TabPanel>
            </TabPanels>
          </TabGroup>
        </Drawer>
        {touched && anchors ? (
          <FeatureSheet
            feature={touched}
            index={document.features.indexOf(touched)}
            report={anchors.features.find((one) => one.id === touched.id && one.kind === touched.kind)}
            caution={anchors.caution}
            catalogue={catalogue}
            canEdit={canEdit}
            inUse={all.some(({ arrangement: one }) =>
              [...one.legs, ...(one.ties ?? [])].some((leg) => leg.feature === touched.id),
            )}
            onChange={(change) => edits.feature(touched.id, change)}
            onRemove={() => {
              openFeature(null);
              edits.dropFeature(touched.id);
            }}
            onClose={() => openFeature(null)}
          />
        ) : null}
        {working && report && anchors ? (
          <FiguresSheet
            title={working === "gone" && removal ? `${removal.name} goes` : report.name}
            figures={
              working === "gone" && removal
                ? [
                    ["The point moves", removal.moved],
                    ["Peak pull on what is left", removal.peak],
                    ["Peak on the leg that takes most", removal.peak_on_leg],
                    ...removal.forces.map((one, index): Labelled => [`Then on ${report.legs[index]?.name ?? ""}`, one]),
                  ]
                : wholeFigures(report)
            }
            onClose={() => setWorking(null)}
          />
        ) : null}
        {choosing ? (
          <ChooseSheet open={open} anchors={anchors} id={choosing} onUse={edits.use} onClose={() => choose(null)} />
        ) : null}
      </>
    </WorkingContext>
  );
}

function wholeFigures(report: ArrangementReport): Labelled[] {
  const { pull, movement, prop, sweep, gather, span, cost, legs } = report;
  const name = (index: number) => legs[index]?.name ?? "";
  return [
    ["Pull on the working point", pull],
    ["Most that any leg sees within the swing", sweep?.worst],
    ["Movement as the load comes on", movement],
    ["On the pole", prop],
    ["Span, end to end", span?.span],
    ["Sag under the load", span?.sag],
    ["Tension in the line", span?.tension],
    ["The device slips at", span?.slips_at],
    ...(gather
      ? [
          ...gather.lengths.map((one, index): Labelled => [`Tie the leg to ${name(index)}`, one]),
          ...gather.forces.map((one, index): Labelled => [`Then on ${name(index)}`, one]),
          ["A centimetre in one leg moves a leg's pull by up to", gather.per_cm] as Labelled,
        ]
      : []),
    ["Time to build", cost?.minutes],
  ];
}

/** The heading kept between half turns, to the degree. */
function turned(heading: number): number {
  const degrees = Math.round((heading * 180) / Math.PI);
  return ((((degrees + 540) % 360) - 180) * Math.PI) / 180;
}

function firstTwo(features: { id: string; verdict?: string | null }[]): string[] {
  return features
    .filter((one) => one.verdict !== "reject")
    .slice(0, 2)
    .map((one) => one.id);
}

/** The anchors in use, and the arrangements of the one that is looked at. */
function Shelf({
  open,
  anchor,
  shownId,
  onShow,
}: {
  open: OpenPlan;
  anchor: Anchor;
  shownId: string;
  onShow: (id: string) => void;
}) {
  const { anchors } = open.document;
  return (
    <div className="flex flex-wrap items-center gap-1 px-4 pt-0.5 narrow:flex-nowrap narrow:px-2.5">
      <h2 className="sr-only">Anchors from above and from the side</h2>
      {anchors.length > 1 ? (
        <OneOf
          label="Anchor"
          value={anchor.id}
          options={anchors}
          onChange={(id) => onShow(anchors.find((one) => one.id === id)?.taken ?? shownId)}
          small
          folds
          className="basis-full"
        />
      ) : null}
      <OneOf
        label="Arrangement"
        value={shownId}
        options={anchor.alternatives.map((one) => ({
          id: one.id,
          name: one.id === anchor.taken ? `■ ${one.name}, in use` : one.name,
        }))}
        onChange={onShow}
        small
        folds
      />
    </div>
  );
}

/** Another arrangement, from this one or from nothing; or this one away. */
function More({
  open,
  anchor,
  shownId,
  onAdd,
  onDrop,
}: {
  open: OpenPlan;
  anchor: Anchor;
  shownId: string;
  onAdd: (copy: boolean) => void;
  onDrop: () => void;
}) {
  const full = anchor.alternatives.length >= 4;
  const isTaken = shownId === anchor.taken;
  return (
    <div className="flex flex-wrap gap-1 pb-1.5">
      <button
        type="button"
        className="button"
        disabled={!open.canEdit || full}
        title={full ? "Four are kept at most" : ""}
        onClick={() => onAdd(true)}
      >
        Copy
      </button>
      <button
        type="button"
        className="button"
        disabled={!open.canEdit || full}
        title={full ? "Four are kept at most" : ""}
        onClick={() => onAdd(false)}
      >
        New
      </button>
      <button
        type="button"
        className="button"
        disabled={!open.canEdit || isTaken}
        title={isTaken ? "It is the one that is taken" : ""}
        onClick={onDrop}
      >
        Discard
      </button>
    </div>
  );
}
