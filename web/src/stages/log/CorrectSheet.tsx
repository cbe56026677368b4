/** Something in the log put right, by an entry that points at it. */
import { useState } from "react";
import type { Entry } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";
import { Sheet } from "../../ui/Sheet";

export function CorrectSheet({ entry, open, onClose }: { entry: Entry; open: OpenPlan; onClose: () => void }) {
  const [decision, setDecision] = useState("");
  const [reason, setReason] = useState("");
  return (
    <Sheet title={`Put right entry ${entry.sequence}`} onClose={onClose} wide>
      <p className="mb-3">“{entry.decision}” stays as it was written; this is a new entry that points at it.</p>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          open.record({
            kind: "correction",
            decision: decision.trim(),
            reason: reason.trim(),
            considered: "",
            corrects: entry.id,
          });
          onClose();
        }}
      >
        <label>
          <span className="field-label">What is right</span>
          <input className="field" value={decision} onChange={(event) => setDecision(event.target.value)} />
        </label>
        <label>
          <span className="field-label">because</span>
          <input className="field" value={reason} onChange={(event) => setReason(event.target.value)} />
        </label>
        <button type="submit" className="button button-main self-start" disabled={!decision.trim() || !reason.trim()}>
          Record the correction
        </button>
      </form>
    </Sheet>
  );
}
