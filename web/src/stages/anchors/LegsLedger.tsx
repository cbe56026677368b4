/** How the arrangement is rigged: its scheme, and for every leg what it is tied with, what it sees and what it holds. */
import type { Anchor, Anchors, Arrangement, ArrangementReport, Catalogue, Document } from "../../api/types";
import { SweepChart } from "../../drawing/SweepChart";
import { useSettings } from "../../ui/settings";
import { Choice, NumberField } from "../../ui/fields";
import { ropesBy } from "../../plan/ledger";
import { degrees, digits, said, spanned } from "../../ui/format";
import type { AnchorEdits } from "./useAnchorEdits";
import { LegRow } from "./LegRow";
import { Beside, OnePiece, Tightened } from "./OnePiece";
import { PieceFields } from "./PieceFields";
import { SchemeFields } from "./SchemeFields";
import { Gather } from "./Gathered";
import { SpanTable } from "./SpanTable";
import { useRows } from "../../ui/useRows";

interface Props {
  document: Document;
  path: string;
  anchor: Anchor;
  onPlanning: (newtons: number | null) => void;
  arrangement: Arrangement;
  report: ArrangementReport | null;
  anchors: Anchors | null;
  catalogue: Catalogue;
  canEdit: boolean;
  edits: AnchorEdits;
  onWorking: () => void;
}

export function LegsLedger({
  document,
  path,
  anchor,
  onPlanning,
  arrangement,
  report,
  anchors,
  catalogue,
  canEdit,
  edits,
  onWorking,
}: Props) {
  const off = !canEdit;
  const change = (with_: Partial<Arrangement>) => edits.arrangement(arrangement.id, (old) => ({ ...old, ...with_ }));
  const rows = useRows(arrangement.legs.length);
  const free = document.features.filter((one) => one.verdict !== "reject");
  return (
    <div className="flex flex-col gap-1">
      {report?.sweep ? <Answer report={report} onWorking={onWorking} /> : null}
      <ul aria-label="Legs">
        {arrangement.legs.map((leg, index) => (
          <LegRow
            key={rows.key(index)}
            leg={leg}
            index={index}
            path={`${path}.legs[${index}]`}
            report={report?.legs[index]}
            anchors={anchors}
            catalogue={catalogue}
            disabled={off}
            features={(free.some((one) => one.id === leg.feature) ? free : document.features).filter(
              (one) => (one.kind === "frame-foot") === (leg.method === "frame-leg"),
            )}
            ropes={ropesBy(document)}
            place={arrangement.piece ? place(index, arrangement.legs.length, !!arrangement.piece.joined) : null}
            canDrop={arrangement.legs.length > 1}
            onChange={(with_) => edits.leg(arrangement.id, index, with_)}
            onDrop={() => {
              rows.gone(index);
              edits.dropLeg(arrangement.id, index);
            }}
          />
        ))}
      </ul>
      {report?.gather ? <Gather report={report} edits={edits} arrangement={arrangement} canEdit={canEdit} /> : null}
      {report?.piece ? <OnePiece report={report} /> : null}
      {report ? <Beside report={report} /> : null}
      {report?.tight ? <Tightened report={report} /> : null}
      {report?.span ? <SpanTable report={report} /> : null}
      {report ? <SweepChart report={report} /> : null}
      <div className="grid grid-cols-2 gap-2 lg:grid-cols-4">
        <Choice
          label="Scheme"
          path={path}
          value={arrangement.scheme}
          options={Object.values(catalogue.schemes)}
          disabled={off}
          onChange={(scheme) => scheme && edits.scheme(arrangement.id, catalogue.schemes[scheme]!)}
        />
        <Choice
          label="Connector at the working point"
          {...(arrangement.piece?.knot || arrangement.knot ? { none: "none: the knot gathers" } : {})}
          path={`${path}.connector`}
          value={arrangement.connector ?? null}
          options={Object.values(catalogue.connectors)}
          disabled={off}
          onChange={(connector) => change({ connector })}
        />
        <NumberField
          label="Pull may swing, to either side"
          unit="°"
          path={`${path}.swing_rad`}
          value={((arrangement.swing_rad ?? 0) * 180) / Math.PI}
          disabled={off}
          onChange={(swing) => change({ swing_rad: ((swing ?? 0) * Math.PI) / 180 })}
        />
        {arrangement.pull ? null : (
          <NumberField
            label="Made for a pull at (empty: the line's own)"
            unit="°"
            optional
            path={`${path}.heading_rad`}
            value={
              arrangement.heading_rad === null || arrangement.heading_rad === undefined
                ? null
                : (arrangement.heading_rad * 180) / Math.PI
            }
            disabled={off}
            onChange={(heading) => change({ heading_rad: heading === null ? null : (heading * Math.PI) / 180 })}
          />
        )}
        {arrangement.pull ? null : (
          <NumberField
            label="Planned for, before a line pulls (empty: the load held)"
            unit="N"
            optional
            value={anchor.planning_n?.expected ?? null}
            disabled={off}
            onChange={onPlanning}
          />
        )}
        <PieceFields
          document={document}
          arrangement={arrangement}
          report={report}
          catalogue={catalogue}
          path={path}
          disabled={off}
          onChange={change}
        />
        <SchemeFields arrangement={arrangement} catalogue={catalogue} disabled={off} onChange={change} />
      </div>
    </div>
  );
}

/** Where in the one piece a leg is: only its ends can be tied round a feature. */
function place(index: number, count: number, joined: boolean): "along" | "end" {
  return !joined && count > 1 && (index === 0 || index === count - 1) ? "end" : "along";
}

/** What the whole arrangement answers, in a line. */
function Answer({ report, onWorking }: { report: ArrangementReport; onWorking: () => void }) {
  const [settings] = useSettings();
  const sweep = report.sweep!;
  const worst = report.legs[sweep.worst_leg];
  const parts: [string, string][] = [
    ["pull", report.pull ? said(report.pull, settings) : ""],
    [
      "weakest",
      report.weakest_margin === null ? "not known" : `${digits(report.weakest_margin)} : 1, ${report.weakest}`,
    ],
    [
      "most on a leg",
      `${spanned(sweep.worst, settings)}, ${worst?.name ?? ""}${Math.abs(sweep.worst_rad) > 0.01 ? ` at ${sweep.worst_rad > 0 ? "+" : "−"}${degrees(Math.abs(sweep.worst_rad))}` : ""}`,
    ],
    ...(report.legs.length > 1 ? [["widest angle", degrees(report.widest_rad)] as [string, string]] : []),
    ...(report.prop ? [["on the pole", spanned(report.prop, settings)] as [string, string]] : []),
    ["moves under load", report.movement ? spanned(report.movement, settings) : ""],
  ];
  return (
    <div className="flex items-start gap-x-5 pt-1" data-testid="anchor-answer">
      <dl className="flex flex-1 flex-wrap gap-x-5">
        {parts.map(([name, value]) => (
          <div key={name} className="min-w-0">
            <dt className="font-label text-note leading-tight text-quiet">{name}</dt>
            <dd className="text-body leading-tight font-semibold text-over">{value}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="min-h-11 px-2 font-label underline" onClick={onWorking}>
        working
      </button>
    </div>
  );
}
