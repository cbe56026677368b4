/** Lines: the bench, and above it what works in the state shown and what it gives. */
import type { Catalogue, Report, StateReport } from "../../api/types";
import { useSettings } from "../../app/settings";
import { useState } from "react";
import { Bench } from "../../drawing/Bench";
import { haulingLine, mainLine } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import type { What } from "../../ui/ChoiceSheet";
import { said, shown, spanned, upperFirst } from "../../ui/format";
import type { Touched } from "./Inspector";
import { Leading } from "./Leading";
import type { HaulEdits } from "./useHaulEdits";
import type { LineEdits } from "./useLineEdits";
import { LoweringTools, HaulTools, BelayTools } from "./LineTools";

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
        <p className="p-4 text-lg">◆ {state.available ? state.catch?.text : `${upperFirst(state.why_not)}.`}</p>
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
        ? `${said(haul.stroke, settings)}, ${haul.resets} ${haul.resets === 1 ? "reset" : "resets"}; the rope gives ${spanned(haul.stretch, settings)}, each ratchet ${spanned(haul.sinks, settings)}`
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
