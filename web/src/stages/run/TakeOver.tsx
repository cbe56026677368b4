/** What the plan says does not go, done or left out all the same: the leader, by name, with a reason. */
import type { Step } from "../../api/types";
import { Because } from "./Because";

interface Props {
  step: Step;
  onTake: (act: "done" | "skip", reason: string) => void;
  onClose: () => void;
}

export function TakeOver({ step, onTake, onClose }: Props) {
  return (
    <Because
      title="The rig is otherwise"
      does={[
        ["It is done", (reason) => onTake("done", reason)],
        ["Leave it out", (reason) => onTake("skip", reason)],
      ]}
      onClose={onClose}
    >
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
    </Because>
  );
}
