/** Two people saved the same plan: both versions side by side, and nothing overwritten until somebody chooses. */
import type { Document, Stale } from "../api/types";
import { Differs } from "./Differs";
import type { OpenPlan } from "./usePlan";
import { clock } from "../ui/format";
import { Sheet } from "../ui/Sheet";

function download(document: Document, name: string) {
  const link = window.document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(document, null, 2)], { type: "application/json" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

export function StaleSheet({ open, stale }: { open: OpenPlan; stale: Stale }) {
  const { latest } = stale;
  return (
    <Sheet title="Somebody saved in between" onClose={() => {}} wide>
      <p className="text-answer">
        You started from revision {stale.base}. {latest.author} saved revision {latest.number} at{" "}
        {clock(latest.saved_at)}. Nothing is overwritten until you choose.
      </p>
      <h3 className="mt-3 font-semibold">From theirs to mine</h3>
      <Differs before={latest.document} after={open.document} />
      <div className="mt-4 flex flex-wrap gap-3">
        <button type="button" className="button button-main" onClick={open.putMineOnTop}>
          Save mine as revision {latest.number + 1}
        </button>
        <button type="button" className="button" onClick={open.takeTheirs}>
          Take theirs
        </button>
        <button
          type="button"
          className="button"
          onClick={() => download(open.document, `mine-from-revision-${stale.base}.json`)}
        >
          Keep mine as a file
        </button>
      </div>
      <p className="mt-3 font-label text-quiet">Both stay readable: every revision is kept.</p>
    </Sheet>
  );
}
