/** A revision as it was, and what has changed since. */
import type { Revision } from "../../api/types";
import { Differs } from "../../plan/Differs";
import type { OpenPlan } from "../../plan/usePlan";
import { clock } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";

export function RevisionSheet({
  revision,
  open,
  onClose,
}: {
  revision: Revision;
  open: OpenPlan;
  onClose: () => void;
}) {
  const same = JSON.stringify(revision.document) === JSON.stringify(open.document);
  return (
    <Sheet
      title={`Revision ${revision.number}, ${clock(revision.saved_at)}, by ${revision.author}`}
      onClose={onClose}
      wide
    >
      <h3 className="font-semibold">{same ? "Nothing has changed since." : "What has changed since"}</h3>
      {same ? null : <Differs before={revision.document} after={open.document} />}
      {open.canEdit && !same ? (
        <button
          type="button"
          className="button mt-3"
          onClick={() => {
            open.edit(() => revision.document);
            onClose();
          }}
        >
          Back to this revision
        </button>
      ) : null}
      <details className="mt-4">
        <summary className="min-h-11 cursor-pointer py-2 font-label text-quiet">
          The whole document, as it is kept
        </summary>
        <p className="font-label break-all text-quiet">SHA-256 {revision.sha256}</p>
        <pre className="overflow-x-auto text-note">{JSON.stringify(revision.document, null, 2)}</pre>
      </details>
    </Sheet>
  );
}
