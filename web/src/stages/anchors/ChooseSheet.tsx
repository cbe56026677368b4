/** The choice of an anchor, to the log: what was decided is written already, the reason is asked for. */
import { useState } from "react";
import type { Anchors } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { arrangements } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { TextField } from "../../ui/fields";
import { digits, spanned } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";

interface Props {
  open: OpenPlan;
  anchors: Anchors | null;
  id: string;
  onUse: (id: string) => void;
  onClose: () => void;
}

export function ChooseSheet({ open, anchors, id, onUse, onClose }: Props) {
  const [settings] = useSettings();
  const [reason, setReason] = useState("");
  const { document } = open;
  const standing = arrangements(document).find((one) => one.arrangement.id === id);
  const chosen = standing?.arrangement;
  const report = anchors?.arrangements.find((one) => one.id === id);
  if (!standing || !chosen) return null;
  const names = chosen.legs
    .map((leg) => document.features.find((one) => one.id === leg.feature)?.name ?? leg.feature)
    .join(", ");
  const margin = report?.available
    ? report.weakest_margin === null
      ? "weakest margin not known"
      : `weakest ${digits(report.weakest_margin)} : 1, ${report.weakest}`
    : "not worked out";
  const pull = report?.pull ? `, pull ${spanned(report.pull, settings)}` : "";
  const decision = `${standing.anchor.name}: ${chosen.name} (${(report?.scheme ?? chosen.scheme).toLowerCase()}) on ${names}; ${margin}${pull}`;
  const rejected = document.features
    .filter((one) => one.verdict === "reject")
    .map((one) => `${one.name} rejected: ${one.reason}`);
  const others = standing.anchor.alternatives.filter((one) => one.id !== id).map((one) => one.name);
  const considered = [...(others.length ? [`Also looked at: ${others.join(", ")}`] : []), ...rejected].join(". ");
  const record = (use: boolean) => {
    if (use) onUse(id);
    open.record({ kind: "decision", decision, reason: reason.trim(), considered });
    onClose();
  };
  const canUse = open.canEdit && id !== standing.anchor.taken && !chosen.pull;
  return (
    <Sheet title="Log the choice of anchor" onClose={onClose}>
      <p className="text-body">{decision}.</p>
      {considered ? <p className="my-2 font-label text-quiet">{considered}.</p> : null}
      <TextField label="Because" value={reason} onChange={setReason} />
      <div className="mt-3 flex flex-wrap gap-2">
        {canUse ? (
          <button type="button" className="button button-main" disabled={!reason.trim()} onClick={() => record(true)}>
            Use it and record
          </button>
        ) : null}
        <button
          type="button"
          className={`button ${canUse ? "" : "button-main"}`}
          disabled={!reason.trim()}
          onClick={() => record(false)}
        >
          Record
        </button>
      </div>
      {reason.trim() ? null : (
        <p className="mt-2 font-label text-over">◆ Write why: that is what is asked for afterwards.</p>
      )}
    </Sheet>
  );
}
