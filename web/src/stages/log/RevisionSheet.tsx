/** A revision as it was, and what has changed since. */
import type { Revision } from "../../api/types";
import { useDiffers } from "../../plan/useDiffers";
import type { OpenPlan } from "../../plan/usePlan";
import { clock, upperFirst } from "../../ui/format";
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
  const changes = useDiffers(revision.document, open.document);
  const same = JSON.stringify(revision.document) === JSON.stringify(open.document);
  return (
    <Sheet
      title={`Revision ${revision.number}, ${clock(revision.saved_at)}, by ${revision.author}`}
      onClose={onClose}
      wide
    >
      <h3 className="font-semibold">{same ? "Nothing has changed since." : "What has changed since"}</h3>
      <ul data-testid="differs">
        {changes?.map((one) => (
          <li key={one} className="border-b border-line py-1 text-body">
            {upperFirst(one)}
          </li>
        ))}
      </ul>
      {!same && changes?.length === 0 ? <p>Only where things stand on the drawing.</p> : null}
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
