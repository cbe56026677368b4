/** Lines: the bench, and above it what works in the state shown and what it gives. */
import type { Catalogue, Line, Report, StateReport } from "../../api/types";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useSettings } from "../../app/settings";
import { useState } from "react";
import { Bench } from "../../drawing/Bench";
import { haulingLine, lineIndex, mainLine } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import type { What } from "../../ui/ChoiceSheet";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { said, shown, spanned } from "../../ui/format";
import type { Touched } from "./Inspector";
import { Leading } from "./Leading";
import type { HaulEdits } from "./useHaulEdits";
import type { LineEdits } from "./useLineEdits";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  state: StateReport | null;
  edits: HaulEdits;
  lines: LineEdits;
  onTouch: (touched: Touched) => void;
  onChoose: (what: What) => void;
  /** The whole way of a tension line, by its id. */
  onTension: (line: string) => void;
}

export function LinesStage({ open, catalogue, state, edits, lines, onTouch, onChoose, onTension }: Props) {
  const [asHands, lead] = useState(false);
  if (!state) return null;
  const led = asHands && state.group !== "goes";
  const { document, report } = open;
  if (!mainLine(document) && !haulingLine(document)) return <Unlaid open={open} catalogue={catalogue} lines={lines} />;
  const shownLine = state.catch?.by ?? state.hand_line ?? "";
  const bench = state.strands.some((one) => one.line === shownLine) ? shownLine : state.strands[0]?.line;
  const anchor = (document.lines ?? []).find((one) => one.id === bench)?.anchor;
  const leadable = state.available && Boolean(bench) && state.group !== "goes";
  return (
    <>
      {led ? null : state.group === "lower" || state.group === "held" ? (
        <LoweringTools open={open} catalogue={catalogue} lines={lines} onChoose={onChoose} />
      ) : null}
      {state.group === "raise" && !led ? (
        <HaulTools open={open} catalogue={catalogue} edits={edits} lines={lines} onChoose={onChoose} />
      ) : null}
      {!led && (state.group === "goes" || state.group === "held") ? (
        <BelayTools open={open} lines={lines} onChoose={onChoose} catalogue={catalogue} onTension={onTension} />
      ) : null}
      <Answer open={open} state={state} onTouch={onTouch} led={led} onLed={leadable ? () => lead(!led) : null} />
      {state.id === "raising" && edits.before ? <Before before={edits.before} now={report} /> : null}
      {state.available && bench && led ? (
        <Leading
          document={document}
          state={state}
          line={bench}
          anchorName={document.anchors.find((one) => one.id === anchor)?.name ?? ""}
        />
      ) : state.available && bench ? (
        <Bench
          state={state}
          line={bench}
          anchorName={document.anchors.find((one) => one.id === anchor)?.name ?? ""}
          onCrossing={(crossing) => onTouch({ what: "crossing", id: crossing.id })}
          onStrand={(strand) => onTouch({ what: "strand", id: strand.id })}
        />
      ) : (
        <p className="p-4 text-lg">
          ◆ {state.available ? state.catch?.text : `${state.why_not[0]?.toUpperCase()}${state.why_not.slice(1)}.`}
        </p>
      )}
    </>
  );
}

/** No line yet: what belongs here, offered. */
function Unlaid({ open, catalogue, lines }: { open: OpenPlan; catalogue: Catalogue; lines: LineEdits }) {
  return (
    <div className="px-4 py-3">
      <p className="text-lg">
        <b>The main line belongs here</b>: from {open.document.anchors[0]?.name.toLowerCase()} to the load. Which rope?
      </p>
      <ul className="mt-2 flex flex-wrap gap-2">
        {Object.values(catalogue.ropes).map((rope) => (
          <li key={rope.id}>
            <button type="button" className="button" disabled={!open.canEdit} onClick={() => lines.lay(rope.id)}>
              {rope.name}, breaks at {(rope.strength_n.low / 1000).toFixed(0)} kN
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What the system before the last change gave, so that the change's cost and gain can be read off. */
function Before({ before, now }: { before: Report; now: Report | null }) {
  const [settings] = useSettings();
  const hand = before.states.find((one) => one.id === "raising")?.hand;
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

/** The answer in one line: hand force, people, advantage, strokes and rope through the hands; or how a line is caught. */
function Answer({
  open,
  state,
  onTouch,
  led,
  onLed,
}: {
  open: OpenPlan;
  state: StateReport;
  onTouch: Props["onTouch"];
  led: boolean;
  onLed: (() => void) | null;
}) {
  const [settings] = useSettings();
  const haul = open.report?.haul;
  const { hand, catch: caught } = state;
  if (!state.available) return null;
  const people = (figure: { low: number; high: number }) =>
    figure.low === figure.high ? `${figure.low}` : `${figure.low} to ${figure.high}`;
  const parts: [string, string][] = [];
  if (state.id === "raising" && haul && hand) {
    parts.push(["advantage", `${said(haul.actual, settings)}, ideal ${haul.ideal}`]);
    parts.push(["at the hands", said(hand, settings)]);
    parts.push([
      "haulers",
      `${people(haul.haulers_sustained)} of ${open.document.team.haulers}, heaving ${people(haul.haulers_heave)}`,
    ]);
    parts.push([
      "each haul",
      haul.stroke
        ? `${said(haul.stroke, settings)}, ${haul.resets} ${haul.resets === 1 ? "reset" : "resets"}`
        : haul.runs_out,
    ]);
    parts.push(["through the hands", said(haul.through_hands, settings)]);
  } else if (caught?.peak) {
    if (caught.drop) parts.push(["drops", said(caught.drop, settings)]);
    parts.push(["peak at the load", said(caught.peak, settings)]);
    if (caught.slid && caught.slid.high > 0.005) parts.push([`slips, ${caught.clutch}`, said(caught.slid, settings)]);
    parts.push(["stops after", caught.stops_in ? said(caught.stops_in, settings) : "it does not stop"]);
  } else if (hand) {
    const word =
      state.id === "jammed"
        ? "the team heaves"
        : state.id === "lowering"
          ? "at the brake hand"
          : "holds the rope's end";
    parts.push([word, said(hand, settings)]);
  }
  for (const pull of state.anchors)
    parts.push([
      `on ${open.document.anchors.find((one) => one.id === pull.anchor)?.name.toLowerCase() ?? pull.anchor}`,
      said(pull.force, settings),
    ]);
  if (!parts.length) return null;
  return (
    <div className="flex items-start px-4 pt-1">
      <dl className="flex flex-1 flex-wrap gap-x-5" data-testid="answer">
        {(led ? [] : parts).map(([name, value]) => (
          <div key={name}>
            <dt className="font-label text-[15px] leading-tight text-quiet">{name}</dt>
            <dd className="text-[18px] leading-tight font-semibold text-over">{value}</dd>
          </div>
        ))}
      </dl>
      {onLed ? (
        <button type="button" className="min-h-11 px-2 font-label underline" aria-pressed={led} onClick={onLed}>
          {led ? "as it pulls" : "as hands see it"}
        </button>
      ) : null}
      <button
        type="button"
        className="min-h-11 px-2 font-label underline"
        onClick={() => onTouch({ what: "answer", id: state.id })}
      >
        working
      </button>
    </div>
  );
}

/** A choice that opens worked out: what is chosen, or what belongs here. */
function Chosen({
  label,
  name,
  none,
  disabled,
  onOpen,
}: {
  label: string;
  name: string | undefined;
  none: string;
  disabled: boolean;
  onOpen: () => void;
}) {
  return (
    <div>
      <p className="field-label">{label}</p>
      <button
        type="button"
        className={`field flex max-w-40 min-w-32 items-center justify-between gap-2 text-left ${name ? "" : "border-over! font-semibold text-over"}`}
        aria-label={`${label}: ${name ?? none}`}
        disabled={disabled}
        onClick={onOpen}
      >
        <span className="truncate">{name ?? `◆ ${none}`}</span>
        <span aria-hidden className="text-quiet">
          ▾
        </span>
      </button>
    </div>
  );
}

interface Tools {
  open: OpenPlan;
  catalogue: Catalogue;
  lines: LineEdits;
  onChoose: (what: What) => void;
}

function LoweringTools({ open, catalogue, lines, onChoose }: Tools) {
  const main = mainLine(open.document);
  const lowering = main?.lowering;
  const off = !open.canEdit;
  if (!main) return null;
  const put = (change: object) => lines.line(main.id, (old) => ({ ...old, lowering: { ...old.lowering!, ...change } }));
  const device = lowering && catalogue.devices[lowering.device];
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <Chosen
        label="Lowering device"
        name={device?.name}
        none="choose what lowers"
        disabled={off}
        onOpen={() => onChoose("lowering")}
      />
      {lowering && !device?.self_locking ? (
        <Chosen
          label="Brake-side hitch"
          name={lowering.brake_hitch ? catalogue.hitches[lowering.brake_hitch]?.name : undefined}
          none="nothing holds if hands let go"
          disabled={off}
          onOpen={() => onChoose("brake")}
        />
      ) : null}
      {lowering?.brake_hitch ? (
        <div className="w-40">
          <TextField
            label="Minded by"
            value={lowering.minder ?? ""}
            disabled={off}
            onChange={(minder) => put({ minder })}
          />
        </div>
      ) : null}
    </div>
  );
}

function HaulTools({ open, catalogue, edits, lines, onChoose }: Tools & { edits: HaulEdits }) {
  const line = haulingLine(open.document);
  const haul = line?.haul;
  const changes: [string, () => void][] = [
    ["Stack a 2:1 on the haul strand", () => edits.stack("drop-2")],
    ["Stack a 3:1 on the haul strand", () => edits.stack("z-3")],
    ["Add a change of direction", edits.redirect],
    ...(line?.role === "main"
      ? [["Drop loop of the free end beside it, old strand as backup", lines.dropLoop] as [string, () => void]]
      : []),
    ...(haul?.redirects?.length ? [["Lead it straight again", lines.straight] as [string, () => void]] : []),
  ];
  const off = !open.canEdit;
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <Chosen
        label="Haul system"
        name={haul?.system.name}
        none="choose what raises"
        disabled={off}
        onOpen={() => onChoose("haul")}
      />
      {haul ? (
        <>
          <Menu as="div" className="relative">
            <MenuButton className="button px-2!" disabled={off}>
              Change it <span aria-hidden>▾</span>
            </MenuButton>
            <MenuItems
              anchor={{ to: "bottom start", gap: 2 }}
              className="z-50 border-2 border-ink bg-sheet shadow-lg focus:outline-none"
            >
              {changes.map(([name, change]) => (
                <MenuItem key={name}>
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center px-3 data-focus:bg-film"
                    onClick={change}
                  >
                    {name}
                  </button>
                </MenuItem>
              ))}
            </MenuItems>
          </Menu>
          <div className="w-28">
            <Choice
              label="Attached"
              value={haul.attached ?? "grab"}
              disabled={off}
              options={[
                { id: "grab", name: "on a grab" },
                { id: "load", name: "at the load" },
              ]}
              onChange={(attached) => lines.haul({ attached: attached as "grab" | "load" })}
            />
          </div>
          <Chosen
            label="Haul grab"
            name={catalogue.hitches[haul.grab ?? "prusik-8"]?.name}
            none="choose what grabs"
            disabled={off}
            onOpen={() => onChoose("grab")}
          />
          <Chosen
            label="Progress capture"
            name={haul.capture ? catalogue.hitches[haul.capture]?.name : undefined}
            none="none: hangs on hands"
            disabled={off}
            onOpen={() => onChoose("capture")}
          />
          {haul.capture ? (
            <div className="w-20">
              <TextField
                label="Minded by"
                value={haul.capture_minder ?? ""}
                disabled={off}
                onChange={(capture_minder) => lines.haul({ capture_minder })}
              />
            </div>
          ) : null}
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

function BelayTools({ open, catalogue, lines, onChoose, onTension }: Tools & { onTension: (line: string) => void }) {
  const { document } = open;
  const belay = (document.lines ?? []).find((one) => one.role === "belay");
  const second = (document.lines ?? []).find((one) => one.role === "second");
  const off = !open.canEdit;
  if (!mainLine(document)) return null;
  if (!belay && !second)
    return (
      <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
        <button type="button" className="button" disabled={off} onClick={() => onChoose("belay")}>
          Add a belay
        </button>
        <button type="button" className="button" disabled={off} onClick={lines.second}>
          Add a second rope, loaded alike
        </button>
        <TensionButton open={open} lines={lines} onTension={onTension} />
      </div>
    );
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      {belay ? (
        <>
          <Chosen
            label="Belay"
            name={catches(belay, catalogue)}
            none="choose what catches"
            disabled={off}
            onOpen={() => onChoose("belay")}
          />
          <div className="w-24">
            <NumberField
              label="Slack"
              unit="m"
              path={`lines[${lineIndex(document, belay.id)}].slack_m`}
              value={belay.slack_m ?? 0}
              disabled={off}
              onChange={(slack_m) => lines.line(belay.id, (old) => ({ ...old, slack_m: slack_m! }))}
            />
          </div>
          <div className="w-28">
            <TextField
              label="Belayed by"
              value={belay.belay?.minder ?? ""}
              disabled={off}
              onChange={(minder) => lines.line(belay.id, (old) => ({ ...old, belay: { ...old.belay!, minder } }))}
            />
          </div>
        </>
      ) : null}
      {[belay, second].flatMap((line) =>
        line ? (
          <div key={line.id} className="w-48">
            <Choice
              label={line.role === "belay" ? "Belay's anchor" : "Second rope's anchor"}
              path={`lines[${lineIndex(document, line.id)}].anchor`}
              value={line.anchor}
              disabled={off}
              options={document.anchors.map(({ id, name }) => ({ id, name }))}
              onChange={(anchor) => anchor && lines.line(line.id, (old) => ({ ...old, anchor }))}
            />
          </div>
        ) : (
          []
        ),
      )}
      {(belay ?? second) ? (
        <button
          type="button"
          className="button px-3!"
          disabled={off}
          aria-label="Off: take this line out"
          onClick={() => lines.drop((belay ?? second)!.id)}
        >
          Off
        </button>
      ) : null}
      <TensionButton open={open} lines={lines} onTension={onTension} />
    </div>
  );
}

function catches(line: Line, catalogue: Catalogue): string | undefined {
  const what = line.belay?.what ?? "";
  return { hitch: catalogue.hitches, device: catalogue.devices, tied: catalogue.knots }[line.belay?.holds ?? "hitch"][
    what
  ]?.name;
}

/** A tension line: to be added, or the way of the one that is there. */
function TensionButton({
  open,
  lines,
  onTension,
}: {
  open: OpenPlan;
  lines: LineEdits;
  onTension: (line: string) => void;
}) {
  const there = open.document.tension_lines?.[0];
  if (there)
    return (
      <button type="button" className="button px-3!" onClick={() => onTension(there.id)}>
        Tension line
      </button>
    );
  return (
    <button type="button" className="button px-3!" disabled={!open.canEdit} onClick={() => onTension(lines.tighten())}>
      Add a tension line
    </button>
  );
}
