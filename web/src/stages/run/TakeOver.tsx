/** What the plan says does not go, done or left out all the same: the leader, by name, with a reason. */
import { useState } from "react";
import type { Step } from "../../api/types";
import { Sheet } from "../../ui/Sheet";

interface Props {
  step: Step;
  onTake: (act: "done" | "skip", reason: string) => void;
  onClose: () => void;
}

export function TakeOver({ step, onTake, onClose }: Props) {
  const [reason, setReason] = useState("");
  const said = reason.trim();
  return (
    <Sheet title="The rig is otherwise" onClose={onClose} wide>
      <p className="text-head leading-snug font-semibold">{step.do}</p>
      {step.refused.map((one) => (
        <p key={one} className="mt-1 text-answer">
          ◆ {one}
        </p>
      ))}
      <p className="mt-2 text-answer">
        What is told after it is worked out from the plan, not from what stands there: look yourself at what holds and
        what is behind it. Your reason stands in the log under your name.
      </p>
      <label className="mt-3 flex items-center gap-2">
        <span className="font-semibold">because</span>
        <input className="field" value={reason} maxLength={2000} onChange={(event) => setReason(event.target.value)} />
      </label>
      <div className="mt-3 flex flex-wrap gap-2">
        <button type="button" className="button button-main" disabled={!said} onClick={() => onTake("done", said)}>
          It is done
        </button>
        <button type="button" className="button" disabled={!said} onClick={() => onTake("skip", said)}>
          Leave it out
        </button>
      </div>
    </Sheet>
  );
}
