/** The head of the work sheet: which plan, whether it is saved, the states to look at, and what else there is. */
import { Link } from "react-router";
import type { StateReport } from "../api/types";
import { useDiffers } from "../plan/useDiffers";
import type { OpenPlan } from "../plan/usePlan";
import { OneOf } from "../ui/OneOf";
import { clock } from "../ui/format";

export const GROUPS: { id: StateReport["group"]; name: string; key: string }[] = [
  { id: "held", name: "Hold", key: "1" },
  { id: "lower", name: "Lower", key: "2" },
  { id: "raise", name: "Raise", key: "3" },
  { id: "goes", name: "A line goes", key: "4" },
];

interface Props {
  open: OpenPlan;
  /** null where no state is looked at. */
  group: StateReport["group"] | null;
  onGroup: (group: StateReport["group"]) => void;
  onMore: () => void;
}

export function SheetHead({ open, group, onGroup, onMore }: Props) {
  return (
    <header className="flex items-center gap-x-2 gap-y-0.5 bg-sheet px-4 pt-1 narrow:flex-wrap narrow:px-2.5">
      <Link
        to="/plans"
        aria-label="Plans"
        className="-ml-3 flex min-h-11 min-w-11 items-center justify-center text-loud hover:bg-film narrow:-ml-2"
      >
        <span aria-hidden>‹</span>
      </Link>
      <div className="min-w-0 flex-1">
        <h1 className="text-answer leading-tight font-semibold narrow:text-base">{open.document.title}</h1>
        {open.went ? <Went went={open.went} /> : null}
        <Saved open={open} />
      </div>
      {group ? (
        <OneOf
          label="State"
          value={group}
          options={GROUPS}
          onChange={onGroup}
          className="narrow:order-last narrow:basis-full"
        />
      ) : null}
      {open.undo ? (
        <button type="button" className="button min-w-11 px-2" onClick={open.undo} aria-label="Undo">
          <span aria-hidden>↶</span>
        </button>
      ) : null}
      {open.redo ? (
        <button type="button" className="button min-w-11 px-2" onClick={open.redo} aria-label="Do it again">
          <span aria-hidden>↷</span>
        </button>
      ) : null}
      <button
        type="button"
        className="button px-4"
        onClick={onMore}
        aria-label="More: palette, units, size, keys, plans"
      >
        <span aria-hidden>···</span>
      </button>
    </header>
  );
}

/** What was undone, or done again, in the leader's words. */
function Went({ went }: { went: NonNullable<OpenPlan["went"]> }) {
  const changes = useDiffers(went.to, went.from, went.undone);
  return (
    <p role="status" className="font-label text-note leading-tight font-semibold" data-testid="went">
      {went.undone ? "Undone" : "Done again"}
      {changes?.length
        ? `: ${changes.slice(0, 3).join("; ")}${changes.length > 3 ? `; ${changes.length - 3} more` : ""}`
        : ""}
    </p>
  );
}

function Saved({ open }: { open: OpenPlan }) {
  const { number, saved_at } = open.revision;
  const words = {
    saved: `revision ${number}, saved ${clock(saved_at)}`,
    waiting: `revision ${number}, saving`,
    offline: "◆ No connection. Kept on this device, sent when it is back",
    stale: "◆ Somebody saved in between",
    refused: "◆ Not saved: a value is wrong. Kept on this device",
  }[open.saving];
  const loud = open.saving === "offline" || open.saving === "stale" || open.saving === "refused";
  return (
    <p
      role="status"
      data-saving={open.saving}
      className={`font-label text-note leading-tight ${loud ? "bg-over px-2 py-0.5 font-semibold text-sheet" : "text-quiet"}`}
    >
      {words}
      {open.canEdit ? "" : " (you read only)"}
    </p>
  );
}
