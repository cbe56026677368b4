/** One leg: what it is tied to and with, its share of the pull, what it holds. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type { Anchors, Catalogue, Document, Leg, LegReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { Choice, NumberField } from "../../ui/fields";
import { degrees, digits, shown, spanned } from "../../ui/format";
import { FigureWithWorking } from "../../ui/WorkingView";
import { StateChoice } from "../../plan/ledger";

interface RowProps {
  leg: Leg;
  index: number;
  path: string;
  report: LegReport | undefined;
  anchors: Anchors | null;
  catalogue: Catalogue;
  disabled: boolean;
  features: Document["features"];
  ropes: { id: string; name: string }[];
  canDrop: boolean;
  /** Where in the one piece of all legs it is; null: it is of a piece of its own. */
  place: "along" | "end" | null;
  onChange: (with_: Partial<Leg>) => void;
  onDrop: () => void;
}

export function LegRow({
  leg,
  index,
  path,
  report,
  anchors,
  catalogue,
  disabled,
  features,
  ropes,
  canDrop,
  place,
  onChange,
  onDrop,
}: RowProps) {
  const [settings] = useSettings();
  const long = (value: number) =>
    `${shown({ low: value, expected: value, high: value, unit: "m" }, settings).value} ${settings.length}`;
  const below = report?.verdict === "below";
  const unknown = report?.verdict === "unknown";
  return (
    <Disclosure as="li" className="border-b border-line" data-leg={index}>
      <DisclosureButton className="grid min-h-[52px] w-full grid-cols-[1.6rem_minmax(0,1fr)_auto_5.5rem] items-center gap-x-3 py-1 text-left hover:bg-film">
        <span aria-hidden className={`text-answer ${below || unknown ? "text-over" : ""}`}>
          {below || unknown ? "◆" : "■"}
        </span>
        <span className="min-w-0">
          <span className="block font-semibold">
            {index + 1}. {report?.name ?? features.find((one) => one.id === leg.feature)?.name}
          </span>
          <span className="block font-label text-note text-quiet">
            {catalogue.attachments[leg.method]?.name}, {catalogue.slings[leg.material]?.name}
            {report?.needs
              .map((need) => `, ${shown(need.need, settings).value} ${settings.length} ${need.use}`)
              .join("")}
          </span>
        </span>
        <span className="text-right font-label">
          {report ? (
            <>
              <b className="text-answer text-over">{report.slack ? "slack" : spanned(report.force, settings)}</b>
              <span className="block text-note text-over">{digits(report.share.expected)} % of the pull</span>
            </>
          ) : null}
        </span>
        <span className={`text-right text-answer font-semibold ${below || unknown ? "text-over" : ""}`}>
          {!report ? (
            ""
          ) : report.margin === null || report.margin === undefined ? (
            <span className="font-label text-note">unknown</span>
          ) : (
            `${digits(report.margin)} : 1`
          )}
        </span>
      </DisclosureButton>
      {report?.needs
        .filter((need) => need.text)
        .map((need) => (
          <p key={need.use} className="font-label text-base font-semibold text-over" data-need={need.use}>
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
            options={Object.values(catalogue.attachments).filter((one) => fits(one.in_piece ?? "never", place))}
            disabled={disabled}
            onChange={(method) =>
              method &&
              onChange({
                method,
                turns: null,
                pulled: null,
                tie_off:
                  method === "drum-tie-off"
                    ? {
                        drum_m: 0.15,
                        surface: "rounded-steel",
                        strap_strands: 2,
                        tail_to: "nothing",
                        finish: "clipped-slack",
                      }
                    : null,
              })
            }
          />
          {catalogue.attachments[leg.method]?.strands_per_turn ? (
            <NumberField
              label="Of these pulled (empty: all but one)"
              optional
              path={`${path}.pulled`}
              value={leg.pulled ?? null}
              disabled={disabled}
              onChange={(pulled) => onChange({ pulled: pulled === null ? null : Math.round(pulled) })}
            />
          ) : null}
          <Choice
            label="With"
            value={leg.material}
            options={Object.values(catalogue.slings)}
            disabled={disabled}
            onChange={(material) => material && onChange({ material })}
          />
          {ropes.length && !catalogue.slings[leg.material]?.sewn ? (
            <Choice
              label="Of which piece"
              none="one out of the bags"
              path={`${path}.rope`}
              value={leg.rope ?? null}
              options={ropes}
              disabled={disabled}
              onChange={(rope) => onChange({ rope })}
            />
          ) : null}
          <NumberField
            label={`Turns (empty: ${catalogue.attachments[leg.method]?.turns.usual})`}
            optional
            value={leg.turns ?? null}
            disabled={disabled}
            onChange={(turns) => onChange({ turns: turns === null ? null : Math.round(turns) })}
          />
          {place ? null : (
            <>
              {catalogue.slings[leg.material]?.sewn ? null : (
                <Choice
                  label="Its lengths joined by"
                  none="in one length"
                  path={`${path}.joined`}
                  value={leg.joined ?? null}
                  options={Object.values(catalogue.knots).filter((one) => one.bend)}
                  disabled={disabled}
                  onChange={(joined) => onChange({ joined })}
                />
              )}
              <Choice
                label="From there to the working point"
                none="the same material reaches"
                value={leg.extension ?? null}
                options={Object.values(catalogue.slings)}
                disabled={disabled}
                onChange={(extension) => onChange({ extension })}
              />
            </>
          )}
          {leg.extension ? (
            <Choice
              label="Knots in that"
              value={leg.extension_knot ?? null}
              options={Object.values(catalogue.knots)}
              disabled={disabled}
              onChange={(knot) => knot && onChange({ extension_knot: knot })}
            />
          ) : null}
          {leg.extension ? (
            <>
              <NumberField
                label="Strands of that side by side"
                path={`${path}.extension_strands`}
                value={leg.extension_strands ?? 1}
                disabled={disabled}
                onChange={(strands) =>
                  onChange({ extension_strands: Math.min(8, Math.max(1, Math.round(strands ?? 1))) })
                }
              />
              <Choice
                label="That joined by"
                none="in one length"
                path={`${path}.extension_joined`}
                value={leg.extension_joined ?? null}
                options={Object.values(catalogue.knots).filter((one) => one.bend)}
                disabled={disabled}
                onChange={(extension_joined) => onChange({ extension_joined })}
              />
            </>
          ) : null}
          <Choice
            label="Bends on its way over"
            none="nothing"
            path={`${path}.over`}
            value={leg.over ?? null}
            options={Object.values(catalogue.surfaces).filter((one) => one.role === "ground")}
            disabled={disabled}
            onChange={(over) => onChange({ over, ...(over ? {} : { padding: null }) })}
          />
          {leg.over ? (
            <Choice
              label="Padded there by"
              none="nothing"
              path={`${path}.padding`}
              value={leg.padding ?? null}
              options={Object.values(catalogue.surfaces).filter((one) => one.role === "protection")}
              disabled={disabled}
              onChange={(padding) => onChange({ padding })}
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
          <StateChoice
            none="as the day"
            catalogue={catalogue}
            value={leg.state}
            disabled={disabled}
            onChange={(state) => onChange({ state })}
          />
          {leg.tie_off ? (
            <TieOffFields leg={leg} catalogue={catalogue} disabled={disabled} onChange={onChange} />
          ) : null}
        </div>
        {report ? <p className="mt-1 font-label">{degrees(report.off_pull_rad)} off the pull.</p> : null}
        {report ? <p className="mt-1 font-label">{report.limits}</p> : null}
        {report && anchors ? (
          <div className="mt-1">
            <FigureWithWorking figure={report.force} label={`Pull on the leg to ${report.name}`} />
            <FigureWithWorking figure={report.share} label="Its share of the pull" />
            {report.tail ? <FigureWithWorking figure={report.tail} label="Tension left in the tail" /> : null}
            {report.needs.map((need) => (
              <FigureWithWorking
                key={need.use}
                figure={need.need}
                label={`${need.material} for the ${need.use}${
                  need.piece_m
                    ? `, ${long(need.piece_m - need.need.expected)} left of a piece of ${long(need.piece_m)}`
                    : ""
                }`}
              />
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

/** Whether a way of tying is offered where a leg is. */
function fits(inPiece: "never" | "too" | "only" | "end", place: "along" | "end" | null): boolean {
  if (place === null) return inPiece !== "only";
  return inPiece === "too" || inPiece === "only" || (inPiece === "end" && place === "end");
}

function TieOffFields({
  leg,
  catalogue,
  disabled,
  onChange,
}: {
  leg: Leg;
  catalogue: Catalogue;
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
        label="Its surface"
        value={tie.surface}
        options={Object.values(catalogue.surfaces).filter((one) => one.role === "ground")}
        disabled={disabled}
        onChange={(surface) => surface && change({ surface })}
      />
      {(
        [
          ["drum_n", "Drum holds, as stamped"],
          ["axle_n", "Its axle holds, as stamped"],
        ] as const
      ).map(([field, label]) => (
        <NumberField
          key={field}
          label={label}
          unit="kN"
          optional
          value={tie[field] ? tie[field].low / 1000 : null}
          disabled={disabled}
          onChange={(kn) => change({ [field]: kn ? { low: 1000 * kn, expected: 1000 * kn, high: 1000 * kn } : null })}
        />
      ))}
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
