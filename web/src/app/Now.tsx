/** One place for what to do now: the next open thing, or else the worst thing, or else the decision to record. One line, one touch. */
import type { NextStep, StateReport, WholeReport } from "../api/types";
import { ratio } from "../ladder/RungMark";
import { digits, unbroken } from "../ui/format";
import type { CheckOf } from "../plan/useCheck";
import type { Offer } from "../plan/useDecided";

interface Props {
  whole: WholeReport | null;
  found: CheckOf | null;
  state: StateReport | null;
  offer: Offer | null;
  onNext: (step: NextStep) => void;
  /** To a place of the load's way, in a state. */
  onPlace: (state: string, run_m: number) => void;
  onCheck: () => void;
  onPath: () => void;
  onDecide: () => void;
}

interface Thing {
  id: string;
  loud: boolean;
  text: string;
  act: string;
  go: () => void;
}

/** What a good leader would look at first: a stop of the check, by its place, or a part of this state below the rule. */
function worst({ found, state, onPlace, onCheck, onPath }: Props): Thing | null {
  const loud = (id: string, text: string, act: string, go: () => void): Thing => ({ id, loud: true, text, act, go });
  // A place of the way in metres; a step of the operation by its id, or none, is looked at in the check.
  const checked = (id: string, text: string, state: string, where: number | string | null | undefined) =>
    typeof where === "number"
      ? loud(id, text, "Go there", () => onPlace(state, where))
      : loud(id, text, "Look at it", onCheck);
  const stop = found?.check.lines.find((one) => one.level === "stop" && one.open);
  if (stop) return checked(stop.id, stop.text, stop.state || "raising", stop.where);
  const row = found?.check.rows.find((one) => one.level === "stop");
  if (row) return checked(row.id, `${row.name}: ${row.why_not || `weakest ${row.weakest}`}`, row.state, row.up_m);
  const part = state?.rungs.find((one) => one.id === state.weakest);
  if (part?.verdict !== "below" || !part.margin) return null;
  return loud(part.id, `${part.name}: ${ratio(part)} of your ${digits(part.target)}`, "Look at it", onPath);
}

function decision({ offer, onDecide }: Props): Thing | null {
  if (!offer) return null;
  return { id: "decide", loud: false, text: `Changed: ${offer.decision}`, act: "Record it", go: onDecide };
}

function next({ whole, onNext }: Props): Thing | null {
  const step = whole?.next[0];
  if (!step) return null;
  const left = whole.next.length > 1 ? ` (1 of ${whole.next.length})` : "";
  return { id: "next", loud: false, text: `Next${left}: ${step.text}`, act: "Do it", go: () => onNext(step) };
}

export function Now(props: Props) {
  const thing = next(props) ?? worst(props) ?? decision(props);
  if (!thing) return null;
  return (
    <div
      className="flex items-center gap-3 px-4 narrow:px-2.5"
      data-testid={thing.id === "next" ? "next" : "now"}
      aria-live="polite"
    >
      <p className={`min-w-0 leading-snug ${thing.loud ? "text-answer font-semibold text-over" : "text-body"}`}>
        {thing.loud ? "◆ " : ""}
        {unbroken(thing.text)}
      </p>
      <button type="button" className="button my-0.5 flex-none px-3" onClick={thing.go}>
        {thing.act}
      </button>
    </div>
  );
}
