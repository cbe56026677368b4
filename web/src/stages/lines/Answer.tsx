/** The answer in one row: hand force, people, advantage, strokes and rope through the hands; or how a line is caught. */
import type { Document, Figure, Report, StateReport } from "../../api/types";
import { said, spanned } from "../../ui/format";
import { useSettings } from "../../ui/settings";
import type { Touched } from "./Inspector";

interface Props {
  document: Document;
  report: Report | null;
  state: StateReport;
  /** Whether what it came from is in view, too: then with what is expected. */
  up: boolean;
  onTouch: (touched: Touched) => void;
}

const FIRST = 4;

export function Answer({ document, report, state, up, onTouch }: Props) {
  const [settings] = useSettings();
  const haul = report?.haul;
  const { hand, catch: caught } = state;
  if (!state.available) return null;
  const people = (figure: { low: number; high: number }) =>
    figure.low === figure.high ? `${figure.low}` : `${figure.low} to ${figure.high}`;
  const told = (figure: Figure) => (up ? said : spanned)(figure, settings);
  const parts: [string, string][] = [];
  if (state.id === "raising" && haul && hand) {
    parts.push(["advantage", `${told(haul.actual)}${up ? `, ideal ${haul.ideal}` : ""}`]);
    parts.push(["at the hands", told(hand)]);
    parts.push([
      "haulers",
      `${people(haul.haulers_sustained)} of ${document.team.haulers}${up ? `, heaving ${people(haul.haulers_heave)}` : ""}`,
    ]);
    parts.push([
      "each haul",
      haul.stroke ? `${told(haul.stroke)}, ${haul.resets} ${haul.resets === 1 ? "reset" : "resets"}` : haul.runs_out,
    ]);
    if (haul.stroke)
      parts.push([
        "of it lost",
        `the rope gives ${spanned(haul.stretch, settings)}, each ratchet ${spanned(haul.sinks, settings)}`,
      ]);
    parts.push(["through the hands", said(haul.through_hands, settings)]);
  } else if (caught?.peak) {
    if (caught.drop) parts.push(["drops", told(caught.drop)]);
    parts.push(["peak at the load", told(caught.peak)]);
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
      `on ${document.anchors.find((one) => one.id === pull.anchor)?.name.toLowerCase() ?? pull.anchor}`,
      said(pull.force, settings),
    ]);
  if (!parts.length) return null;
  return (
    <div className="flex items-start px-4 pb-1 narrow:px-2.5">
      <dl
        className="flex flex-1 flex-wrap gap-x-5 gap-y-0.5 narrow:grid narrow:grid-cols-2 narrow:gap-x-2"
        data-testid="answer"
      >
        {(up ? parts : parts.slice(0, FIRST)).map(([name, value]) => (
          <div key={name}>
            <dt className="font-label text-note leading-tight text-quiet">{name}</dt>
            <dd className="text-answer leading-tight font-semibold text-over">{value}</dd>
          </div>
        ))}
      </dl>
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
