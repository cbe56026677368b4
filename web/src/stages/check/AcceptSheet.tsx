/** A line accepted as it is: by somebody named, with a reason; kept in the plan and written in the log. */
import { useState } from "react";
import type { CheckLine } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";
import { Sheet } from "../../ui/Sheet";

export function AcceptSheet({ line, open, onClose }: { line: CheckLine; open: OpenPlan; onClose: () => void }) {
  const leader = open.document.team.people?.find((one) => one.role === "leader")?.name ?? "";
  const [by, setBy] = useState(leader);
  const [reason, setReason] = useState("");
  const ready = by.trim() !== "" && reason.trim() !== "";
  return (
    <Sheet title="Accept it as it is" onClose={onClose} wide>
      <p className="mb-3 text-answer">{line.text}</p>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!ready) return;
          const accepted = { check: line.id, answer: line.answer, by: by.trim(), reason: reason.trim() };
          open.edit((old) => ({
            ...old,
            accepted: [...(old.accepted ?? []).filter((one) => one.check !== line.id), accepted],
          }));
          open.record({
            kind: "decision",
            decision: `Accepted by ${accepted.by}: ${line.text}`.slice(0, 2000),
            reason: accepted.reason,
            considered: line.mends.map((one) => one.label).join("; "),
          });
          onClose();
        }}
      >
        <label>
          <span className="field-label">Accepted by</span>
          <input className="field" value={by} maxLength={120} onChange={(event) => setBy(event.target.value)} />
        </label>
        <label>
          <span className="field-label">because</span>
          <input
            className="field"
            value={reason}
            maxLength={2000}
            onChange={(event) => setReason(event.target.value)}
          />
        </label>
        <p className="text-quiet">
          It holds until what it hangs on changes, and stands in the log with the plan as it is now.
        </p>
        <button type="submit" className="button button-main self-start" disabled={!ready}>
          Accept with this reason
        </button>
      </form>
    </Sheet>
  );
}
