/** The next open thing, in the order of the work: what it is, and the way to it. */
import { useNavigate } from "react-router";
import type { NextStep, WholeReport } from "../api/types";

interface Props {
  whole: WholeReport | null;
  planId: string;
  onOpen: (step: NextStep) => void;
}

export function NextThing({ whole, planId, onOpen }: Props) {
  const go = useNavigate();
  const step = whole?.next[0];
  if (!step) return null;
  return (
    <div className="mx-3 mt-2 flex items-center gap-3 border-2 border-ink bg-sheet px-3 py-1" data-testid="next">
      <p className="min-w-0 flex-1 leading-snug">
        <b>Next</b> {whole.next.length > 1 ? `(1 of ${whole.next.length})` : ""}: {step.text}
      </p>
      <button
        type="button"
        className="button button-main my-1 px-3!"
        onClick={() => {
          void go(`/plans/${planId}/${step.stage}`);
          onOpen(step);
        }}
      >
        Do it
      </button>
    </div>
  );
}
