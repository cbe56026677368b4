/** How the arrangement is rigged: its scheme, and for every leg what it is tied with, what it sees and what it holds. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type {
  Anchor,
  Anchors,
  Arrangement,
  ArrangementReport,
  Catalogue,
  Document,
  Leg,
  LegReport,
} from "../../api/types";
import { SweepChart } from "../../drawing/SweepChart";
import { useSettings } from "../../app/settings";
import { Choice, NumberField } from "../../ui/fields";
import { degrees, digits, said, shown, spanned } from "../../ui/format";
import { FigureWithWorking } from "../../ui/WorkingView";
import type { AnchorEdits } from "./useAnchorEdits";

export const SCHEMES: { id: Arrangement["scheme"]; name: string }[] = [
  { id: "single", name: "Single" },
  { id: "two-loop-y", name: "Two-loop Y" },
  { id: "fixed", name: "Fixed, load-sharing" },
  { id: "self-adjusting", name: "Self-adjusting" },
  { id: "back-tied", name: "Back-tied" },
  { id: "floating", name: "Floating, opposed legs" },
  { id: "span", name: "Span, tension line" },
  { id: "frame", name: "Frame on its feet" },
];

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
  const free = document.features.filter((one) => one.verdict !== "reject");
  return (
    <div className="flex flex-col gap-1">
      {report?.sweep ? <Answer report={report} onWorking={onWorking} /> : null}
      <ul aria-label="Legs">
        {arrangement.legs.map((leg, index) => (
          <LegRow
            key={index}
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
            canDrop={arrangement.legs.length > 1}
            onChange={(with_) => edits.leg(arrangement.id, index, with_)}
            onDrop={() => edits.dropLeg(arrangement.id, index)}
          />
        ))}
      </ul>
      {report?.gather ? <Gather report={report} edits={edits} arrangement={arrangement} canEdit={canEdit} /> : null}
      {report?.span ? <SpanTable report={report} /> : null}
      {report ? <SweepChart report={report} /> : null}
      <div className="grid grid-cols-2 gap-2 lg:grid-cols-4">
        <Choice
          label="Scheme"
          path={path}
          value={arrangement.scheme}
          options={SCHEMES}
          disabled={off}
          onChange={(scheme) => scheme && edits.scheme(arrangement.id, scheme as Arrangement["scheme"])}
        />
        <Choice
          label="Connector at the working point"
          value={arrangement.connector}
          options={Object.values(catalogue.connectors)}
          disabled={off}
          onChange={(connector) => connector && change({ connector })}
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
        <SchemeFields arrangement={arrangement} catalogue={catalogue} disabled={off} onChange={change} />
      </div>
    </div>
  );
}

function SchemeFields({
  arrangement,
  catalogue,
  disabled,
  onChange,
}: {
  arrangement: Arrangement;
  catalogue: Catalogue;
  disabled: boolean;
  onChange: (with_: Partial<Arrangement>) => void;
}) {
  const { scheme, span, prop } = arrangement;
  if (scheme === "self-adjusting")
    return (
      <>
        <Choice
          label="Slides on"
          value={arrangement.slider ?? "carabiner"}
          options={Object.values(catalogue.bends)}
          disabled={disabled}
          onChange={(slider) => slider && onChange({ slider })}
        />
        <NumberField
          label="Limiting knots let it run"
          unit="m"
          optional
          value={arrangement.limit_m ?? null}
          disabled={disabled}
          onChange={(limit_m) => onChange({ limit_m })}
        />
        <Choice
          label="Slider"
          value={arrangement.locked ? "locked" : "free"}
          options={[
            { id: "free", name: "free to run" },
            { id: "locked", name: "locked by a knot" },
          ]}
          disabled={disabled}
          onChange={(id) => onChange({ locked: id === "locked" })}
        />
      </>
    );
  if (scheme === "span" && span)
    return (
      <>
        <NumberField
          label="Ropes side by side"
          value={span.ropes ?? 1}
          disabled={disabled}
          onChange={(ropes) => onChange({ span: { ...span, ropes: Math.round(ropes ?? 1) } })}
        />
        <Choice
          label="Load on the line"
          value={span.carriage ?? "gathered"}
          options={[
            { id: "gathered", name: "at a knot" },
            { id: "rolls", name: "on a carriage" },
          ]}
          disabled={disabled}
          onChange={(carriage) => onChange({ span: { ...span, carriage: carriage as "gathered" | "rolls" } })}
        />
        <Choice
          label="Slips at one end"
          none="nothing slips"
          value={span.slips ?? null}
          options={Object.values(catalogue.devices).filter((one) => one.gives === "slips")}
          disabled={disabled}
          onChange={(slips) => onChange({ span: { ...span, slips } })}
        />
        <OwnLoad arrangement={arrangement} disabled={disabled} onChange={onChange} />
        <Choice
          label="Both lines"
          value={span.ends ?? "gathered"}
          options={[
            { id: "gathered", name: "gathered into both anchors" },
            { id: "one-each", name: "one to each anchor" },
          ]}
          disabled={disabled}
          onChange={(ends) => onChange({ span: { ...span, ends: ends as "gathered" | "one-each" } })}
        />
      </>
    );
  if (scheme === "floating")
    return (
      <Choice
        label="Held up by a pole"
        value={prop ? "pole" : "none"}
        options={[
          { id: "none", name: "no pole" },
          { id: "pole", name: "pole under the point" },
        ]}
        disabled={disabled}
        onChange={(id) =>
          onChange({
            prop:
              id === "pole"
                ? (prop ?? {
                    foot: { x_m: arrangement.point.x_m, y_m: arrangement.point.y_m, z_m: arrangement.point.z_m - 1 },
                    holds_n: { low: 2000, expected: 3000, high: 4000 },
                    basis: "pole as cut, not measured",
                  })
                : null,
          })
        }
      />
    );
  return null;
}

/** A load of its own on a tension line, hanging; without one, the main line pulls on it. */
function OwnLoad({
  arrangement,
  disabled,
  onChange,
}: {
  arrangement: Arrangement;
  disabled: boolean;
  onChange: (with_: Partial<Arrangement>) => void;
}) {
  const { pull } = arrangement;
  const set = (key: "low" | "expected" | "high", value: number | null) => {
    if (value === null) return onChange({ pull: null });
    const old = pull ?? { force_n: { low: value, expected: value, high: value }, heading_rad: 0, dip_rad: Math.PI / 2 };
    return onChange({ pull: { ...old, force_n: { ...old.force_n, [key]: value } } });
  };
  return (["low", "expected", "high"] as const).map((key) => (
    <NumberField
      key={key}
      label={`Own load, ${key} (empty: the main line)`}
      unit="N"
      optional
      value={pull?.force_n[key] ?? null}
      disabled={disabled}
      onChange={(value) => set(key, value)}
    />
  ));
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
            <dt className="font-label text-[15px] leading-tight text-quiet">{name}</dt>
            <dd className="text-[17px] leading-tight font-semibold text-over">{value}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="min-h-11 px-2 font-label underline" onClick={onWorking}>
        working
      </button>
    </div>
  );
}

interface RowProps {
  leg: Leg;
  index: number;
  path: string;
  report: LegReport | undefined;
  anchors: Anchors | null;
  catalogue: Catalogue;
  disabled: boolean;
  features: Document["features"];
  canDrop: boolean;
  onChange: (with_: Partial<Leg>) => void;
  onDrop: () => void;
}

function LegRow({
  leg,
  index,
  path,
  report,
  anchors,
  catalogue,
  disabled,
  features,
  canDrop,
  onChange,
  onDrop,
}: RowProps) {
  const [settings] = useSettings();
  const below = report?.verdict === "below";
  const unknown = report?.verdict === "unknown";
  return (
    <Disclosure as="li" className="border-b border-line" data-leg={index}>
      <DisclosureButton className="grid min-h-[52px] w-full grid-cols-[1.6rem_minmax(0,1fr)_auto_5.5rem] items-center gap-x-3 py-1 text-left hover:bg-film">
        <span aria-hidden className={`text-lg ${below || unknown ? "text-over" : ""}`}>
          {below || unknown ? "◆" : "■"}
        </span>
        <span className="min-w-0">
          <span className="block truncate font-semibold">
            {index + 1}. {report?.name ?? features.find((one) => one.id === leg.feature)?.name}
          </span>
          <span className="block truncate font-label text-[15px] text-quiet">
            {catalogue.attachments[leg.method]?.name}, {catalogue.slings[leg.material]?.name}
            {report?.needs
              .map((need) => `, ${shown(need.need, settings).value} ${settings.length} ${need.use}`)
              .join("")}
          </span>
        </span>
        <span className="text-right font-label">
          {report ? (
            <>
              <b className="text-[18px] text-over">{report.slack ? "slack" : spanned(report.force, settings)}</b>
              <span className="block text-[15px] text-over">{digits(report.share.expected)} % of the pull</span>
            </>
          ) : null}
        </span>
        <span className={`text-right text-[18px] font-semibold ${below || unknown ? "text-over" : ""}`}>
          {!report ? (
            ""
          ) : report.margin === null || report.margin === undefined ? (
            <span className="font-label text-[15px]">unknown</span>
          ) : (
            `${digits(report.margin)} : 1`
          )}
        </span>
      </DisclosureButton>
      {report?.needs
        .filter((need) => need.text)
        .map((need) => (
          <p key={need.use} className="font-label text-[16px] font-semibold text-over" data-need={need.use}>
            ◆ {need.text}
          </p>
        ))}
      <DisclosurePanel className="pb-3">
        <div className="grid grid-cols-2 gap-2 lg:grid-cols-3">
          <Choice
            label="Tied to"
            path={`${path}.feature`}
            value={leg.feature}
            options={features}
            disabled={disabled}
            onChange={(feature) => feature && onChange({ feature })}
          />
          <Choice
            label="How"
            path={path}
            value={leg.method}
            options={Object.values(catalogue.attachments)}
            disabled={disabled}
            onChange={(method) =>
              method &&
              onChange({
                method,
                turns: null,
                tie_off:
                  method === "drum-tie-off" ? { drum_m: 0.15, tail_to: "nothing", finish: "clipped-slack" } : null,
              })
            }
          />
          <Choice
            label="With"
            value={leg.material}
            options={Object.values(catalogue.slings)}
            disabled={disabled}
            onChange={(material) => material && onChange({ material })}
          />
          <NumberField
            label={`Turns (empty: ${catalogue.attachments[leg.method]?.turns.usual})`}
            optional
            value={leg.turns ?? null}
            disabled={disabled}
            onChange={(turns) => onChange({ turns: turns === null ? null : Math.round(turns) })}
          />
          <Choice
            label="From there to the working point"
            none="the same material reaches"
            value={leg.extension ?? null}
            options={Object.values(catalogue.slings)}
            disabled={disabled}
            onChange={(extension) => onChange({ extension })}
          />
          {leg.extension ? (
            <Choice
              label="Knots in that"
              value={leg.extension_knot ?? null}
              options={Object.values(catalogue.knots)}
              disabled={disabled}
              onChange={(knot) => knot && onChange({ extension_knot: knot })}
            />
          ) : null}
          <NumberField
            label="Leg length (empty: snug)"
            unit="m"
            optional
            path={`${path}.length_m`}
            value={leg.length_m ?? null}
            disabled={disabled}
            onChange={(length_m) => onChange({ length_m, ...(length_m === null ? {} : { pretension_n: null }) })}
          />
          <NumberField
            label="Pretension (empty: none)"
            unit="N"
            optional
            path={`${path}.pretension_n`}
            value={leg.pretension_n ?? null}
            disabled={disabled}
            onChange={(pretension_n) =>
              onChange({ pretension_n, ...(pretension_n === null ? {} : { length_m: null }) })
            }
          />
          {leg.tie_off ? <TieOffFields leg={leg} disabled={disabled} onChange={onChange} /> : null}
        </div>
        {report ? <p className="mt-1 font-label">{degrees(report.off_pull_rad)} off the pull.</p> : null}
        {report ? <p className="mt-1 font-label">{report.limits}</p> : null}
        {report && anchors ? (
          <div className="mt-1">
            <FigureWithWorking figure={report.force} label={`Pull on the leg to ${report.name}`} />
            <FigureWithWorking figure={report.share} label="Its share of the pull" />
            {report.tail ? <FigureWithWorking figure={report.tail} label="Tension left in the tail" /> : null}
            {report.needs.map((need) => (
              <FigureWithWorking key={need.use} figure={need.need} label={`${need.material} for the ${need.use}`} />
            ))}
            {report.links.map((link) => (
              <FigureWithWorking key={link.name} figure={link.strength} label={`${link.name} holds`} />
            ))}
          </div>
        ) : null}
        <button type="button" className="button mt-2" disabled={disabled || !canDrop} onClick={onDrop}>
          Take this leg out
        </button>
      </DisclosurePanel>
    </Disclosure>
  );
}

function TieOffFields({
  leg,
  disabled,
  onChange,
}: {
  leg: Leg;
  disabled: boolean;
  onChange: (with_: Partial<Leg>) => void;
}) {
  const tie = leg.tie_off!;
  const change = (with_: Partial<typeof tie>) => onChange({ tie_off: { ...tie, ...with_ } });
  return (
    <>
      <NumberField
        label="Drum, across"
        unit="m"
        value={tie.drum_m}
        disabled={disabled}
        onChange={(drum_m) => change({ drum_m: drum_m! })}
      />
      <Choice
        label="Tail led to"
        value={tie.tail_to}
        options={[
          { id: "anchor-behind", name: "the anchor, out behind" },
          { id: "same-axle", name: "the same axle" },
          { id: "nothing", name: "nothing" },
        ]}
        disabled={disabled}
        onChange={(to) => change({ tail_to: to as typeof tie.tail_to })}
      />
      <Choice
        label="Finished with"
        value={tie.finish}
        options={[
          { id: "releasable-hitch", name: "a releasable hitch" },
          { id: "clipped-slack", name: "clipped back slack" },
          { id: "clipped-tight", name: "clipped back tight" },
          { id: "half-hitch", name: "a half hitch" },
        ]}
        disabled={disabled}
        onChange={(finish) => change({ finish: finish as typeof tie.finish })}
      />
    </>
  );
}

function Gather({
  report,
  edits,
  arrangement,
  canEdit,
}: {
  report: ArrangementReport;
  edits: AnchorEdits;
  arrangement: Arrangement;
  canEdit: boolean;
}) {
  const [settings] = useSettings();
  const gather = report.gather!;
  const tie = () =>
    edits.arrangement(arrangement.id, (old) => ({
      ...old,
      legs: old.legs.map((leg, index) => ({
        ...leg,
        pretension_n: null,
        length_m: Math.round((gather.lengths[index]?.expected ?? 1) * 1000) / 1000,
      })),
    }));
  return (
    <section className="mt-1 border-l-4 border-line px-3 py-1" aria-label="Where to gather">
      <h3 className="font-semibold">Where to gather</h3>
      <p>
        {gather.text || (
          <>
            Tie the legs to{" "}
            {report.legs
              .map((leg, index) => `${gather.lengths[index]?.expected.toFixed(2)} m (${leg.name})`)
              .join(", ")}
            : then {gather.forces.map((force) => shown(force, settings).value).join(", ")} {settings.force}. A
            centimetre in one leg moves a leg&apos;s pull by up to {said(gather.per_cm, settings)}.
          </>
        )}
      </p>
      {gather.text ? null : (
        <button type="button" className="button my-1" disabled={!canEdit} onClick={tie}>
          Tie to these lengths
        </button>
      )}
    </section>
  );
}

function SpanTable({ report }: { report: ArrangementReport }) {
  const [settings] = useSettings();
  const span = report.span!;
  const force = (newton: number) => shown({ low: newton, expected: newton, high: newton, unit: "N" }, settings).value;
  const length = (metres: number) => shown({ low: metres, expected: metres, high: metres, unit: "m" }, settings).value;
  return (
    <section aria-label="Tension line" className="mt-1">
      <p className="text-[17px]">
        Over {said(span.span, settings)} it hangs <b className="text-over">{said(span.sag, settings)}</b> deep and pulls{" "}
        <b className="text-over">{said(span.tension, settings)}</b> at its ends
        {span.slips_at ? `; the device slips at ${spanned(span.slips_at, settings)}` : "; nothing slips"}.
      </p>
      <table className="w-full max-w-xl font-label">
        <thead>
          <tr className="border-b border-ink text-left text-[15px] text-quiet">
            <th className="font-normal">pretension</th>
            <th className="text-right font-normal">line pulls</th>
            <th className="text-right font-normal">hangs</th>
            <th className="text-right font-normal">height won</th>
          </tr>
        </thead>
        <tbody className="text-[17px] text-over">
          {span.rows.map((row) => (
            <tr key={row.pretension_n} className="border-b border-line">
              <td>
                {force(row.pretension_n)} {settings.force}
              </td>
              <td className="text-right">
                {force(row.tension_n)} {settings.force}
              </td>
              <td className="text-right">
                {length(row.sag_m)} {settings.length}
              </td>
              <td className="text-right">
                {length(row.gained_m)} {settings.length}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
