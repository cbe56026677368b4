/** Lines: the bench, and above it what works in the state shown and what it gives. */
import type { Catalogue, Report, StateReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { useState } from "react";
import { Bench } from "../../drawing/Bench";
import { haulingLine, mainLine } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import type { What } from "../../ui/ChoiceSheet";
import { shown, spanned, upperFirst } from "../../ui/format";
import type { Touched } from "./Inspector";
import { Leading } from "./Leading";
import type { HaulEdits } from "./useHaulEdits";
import type { LineEdits } from "../../plan/useLineEdits";
import { later } from "../../ui/later";

const LineTools = later(async () => (await import("./LineTools")).LineTools, null);

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
      <div className="flex items-end">
        <div className="min-w-0 flex-1">
          {led ? null : (
            <LineTools
              open={open}
              catalogue={catalogue}
              group={state.group}
              edits={edits}
              lines={lines}
              onChoose={onChoose}
              onTension={onTension}
            />
          )}
        </div>
        {leadable ? (
          <button
            type="button"
            className="min-h-11 flex-none px-4 font-label underline"
            aria-pressed={led}
            onClick={() => lead(!led)}
          >
            {led ? "as it pulls" : "as hands see it"}
          </button>
        ) : null}
      </div>
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
        <p className="p-4 text-answer">◆ {state.available ? state.catch?.text : `${upperFirst(state.why_not)}.`}</p>
      )}
    </>
  );
}

/** No line yet: what belongs here, offered. */
function Unlaid({ open, catalogue, lines }: { open: OpenPlan; catalogue: Catalogue; lines: LineEdits }) {
  return (
    <div className="px-4 py-3">
      <p className="text-answer">
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
