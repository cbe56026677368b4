/** Lines: the bench, and above it what the system is and what it gives. */
import type { Catalogue, PhaseReport, Report } from "../../api/types";
import { useSettings } from "../../app/settings";
import { Bench } from "../../drawing/Bench";
import type { OpenPlan } from "../../plan/usePlan";
import { Choice } from "../../ui/fields";
import { said, shown, spanned } from "../../ui/format";
import type { Touched } from "./Inspector";
import type { HaulEdits } from "./useHaulEdits";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  phase: PhaseReport | null;
  edits: HaulEdits;
  onTouch: (touched: Touched) => void;
}

export function LinesStage({ open, catalogue, phase, edits, onTouch }: Props) {
  if (!phase) return null;
  const hauling = phase.phase === "raise" || phase.phase === "jam";
  return (
    <>
      {phase.phase === "lower" ? <LoweringTools open={open} catalogue={catalogue} /> : null}
      {hauling ? <HaulTools open={open} catalogue={catalogue} edits={edits} /> : null}
      {phase.phase === "hold" ? <CaptureTools open={open} catalogue={catalogue} /> : null}
      <Answer open={open} phase={phase} onTouch={onTouch} />
      {phase.phase === "raise" && edits.before ? <Before before={edits.before} now={open.report} /> : null}
      {phase.available ? (
        <Bench
          phase={phase}
          anchorName={phase.nodes.find((node) => node.kind === "anchor")?.name ?? open.document.features[0]?.name ?? ""}
          handName={phase.nodes.find((node) => node.kind === "hand")?.name ?? ""}
          onCrossing={(crossing) => onTouch({ what: "crossing", id: crossing.id })}
          onStrand={(strand) => onTouch({ what: "strand", id: strand.id })}
        />
      ) : (
        <p className="p-4 text-lg">◆ {phase.why_not[0]?.toUpperCase() + phase.why_not.slice(1)}.</p>
      )}
    </>
  );
}

/** What the system before the last change gave, so that the change's cost and gain can be read off. */
function Before({ before, now }: { before: Report; now: Report | null }) {
  const [settings] = useSettings();
  const hand = before.phases.raise?.hand;
  const left = before.budgets.find((budget) => budget.job === "raise")?.left;
  if (!before.haul || !hand || before.haul.name === now?.haul?.name) return null;
  const { name, actual, stroke, through_hands } = before.haul;
  const parts = [
    `advantage ${shown(actual, settings).value}`,
    `${spanned(hand, settings)} at the hands`,
    stroke ? `${spanned(stroke, settings)} each haul` : "",
    `${spanned(through_hands, settings)} through the hands`,
    left ? `rope left ${spanned(left, settings)}` : "",
  ];
  return (
    <p className="px-4 font-label text-quiet" data-testid="before">
      Before, {name}: {parts.filter(Boolean).join(", ")}.
    </p>
  );
}

/** The answer in one line: hand force, people, advantage, strokes and rope through the hands. */
function Answer({ open, phase, onTouch }: { open: OpenPlan; phase: PhaseReport; onTouch: Props["onTouch"] }) {
  const [settings] = useSettings();
  const haul = open.report?.haul;
  const hand = phase.hand;
  if (!hand) return null;
  const people = (figure: { low: number; high: number }) => (figure.low === figure.high ? `${figure.low}` : `${figure.low} to ${figure.high}`);
  const parts: [string, string][] = [];
  if (phase.phase === "raise" && haul) {
    parts.push(["advantage", `${said(haul.actual, settings)}, ideal ${haul.ideal}`]);
    parts.push(["at the hands", said(hand, settings)]);
    parts.push(["haulers", `${people(haul.haulers_sustained)} of ${open.document.team.haulers}, heaving ${people(haul.haulers_heave)}`]);
    parts.push(["each haul", haul.stroke ? `${said(haul.stroke, settings)}, ${haul.resets} ${haul.resets === 1 ? "reset" : "resets"}` : haul.runs_out]);
    parts.push(["through the hands", said(haul.through_hands, settings)]);
  } else parts.push([{ hold: "holds", lower: "at the brake hand", jam: "the team heaves", raise: "" }[phase.phase], said(hand, settings)]);
  if (phase.at_anchor) parts.push(["on the working point", said(phase.at_anchor, settings)]);
  return (
    <dl className="flex flex-wrap gap-x-5 px-4 pt-1" data-testid="answer">
      {parts.map(([name, value]) => (
        <div key={name}>
          <dt className="font-label text-[15px] leading-tight text-quiet">{name}</dt>
          <dd className="text-[18px] leading-tight font-semibold text-over">{value}</dd>
        </div>
      ))}
      <button type="button" className="ml-auto min-h-11 px-2 font-label underline" onClick={() => onTouch({ what: "answer", id: phase.phase })}>
        working
      </button>
    </dl>
  );
}

function HaulTools({ open, catalogue, edits }: { open: OpenPlan; catalogue: Catalogue; edits: HaulEdits }) {
  const haul = open.document.line.haul;
  const known = haul && catalogue.systems[haul.system.id];
  const options = [...(haul && !known ? [{ id: haul.system.id, name: haul.system.name }] : []), ...Object.values(catalogue.systems)];
  const button = "button px-3!";
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <div className="w-60">
        <Choice label="Haul system" bare value={haul?.system.id ?? null} none="no haul system" disabled={!open.canEdit} options={options.map(({ id, name }) => ({ id, name }))} onChange={(id) => edits.choose(id ? (catalogue.systems[id] ?? haul?.system ?? null) : null)} />
      </div>
      {haul ? (
        <>
          <button type="button" className={button} disabled={!open.canEdit} onClick={edits.redirect}>
            + redirect
          </button>
          <button type="button" className={button} disabled={!open.canEdit} onClick={() => edits.stack("drop-2")}>
            stack 2:1
          </button>
          <button type="button" className={button} disabled={!open.canEdit} onClick={() => edits.stack("z-3")}>
            stack 3:1
          </button>
          <div className="w-44">
            <Choice
              label="Attached"
              bare
              value={haul.attached ?? "grab"}
              disabled={!open.canEdit}
              options={[
                { id: "grab", name: "on a grab" },
                { id: "load", name: "at the load" },
              ]}
              onChange={(attached) => open.edit((old) => ({ ...old, line: { ...old.line, haul: { ...old.line.haul!, attached: attached as "grab" | "load" } } }))}
            />
          </div>
        </>
      ) : null}
      {edits.trouble ? (
        <p role="alert" className="basis-full font-semibold text-over">
          ◆ {edits.trouble}
        </p>
      ) : null}
    </div>
  );
}

function LoweringTools({ open, catalogue }: { open: OpenPlan; catalogue: Catalogue }) {
  const lowering = open.document.line.lowering;
  const put = (device: string | null, brake: string | null) => open.edit((old) => ({ ...old, line: { ...old.line, lowering: device ? { device, brake_hitch: brake } : null } }));
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <div className="w-60">
        <Choice label="Lowering device" bare none="no device" value={lowering?.device ?? null} disabled={!open.canEdit} options={Object.values(catalogue.devices)} onChange={(id) => put(id, lowering?.brake_hitch ?? null)} />
      </div>
      {lowering ? (
        <div className="w-72">
          <Choice label="Brake-side hitch" bare none="no hitch on the brake side" value={lowering.brake_hitch ?? null} disabled={!open.canEdit} options={Object.values(catalogue.hitches)} onChange={(id) => put(lowering.device, id)} />
        </div>
      ) : null}
    </div>
  );
}

function CaptureTools({ open, catalogue }: { open: OpenPlan; catalogue: Catalogue }) {
  const haul = open.document.line.haul;
  if (!haul) return null;
  const put = (part: Partial<typeof haul>) => open.edit((old) => ({ ...old, line: { ...old.line, haul: { ...old.line.haul!, ...part } } }));
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <div className="w-72">
        <Choice label="Progress capture" bare none="no progress capture" value={haul.capture ?? null} disabled={!open.canEdit} options={Object.values(catalogue.hitches)} onChange={(capture) => put({ capture })} />
      </div>
      <label className="flex items-center gap-2">
        <span className="font-label">minded by</span>
        <input className="field w-40!" value={haul.capture_minder ?? ""} disabled={!open.canEdit} onChange={(event) => put({ capture_minder: event.target.value })} />
      </label>
    </div>
  );
}
