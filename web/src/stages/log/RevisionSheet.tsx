/** A revision as it was, and what has changed since. */
import type { Revision } from "../../api/types";
import { differences } from "../../plan/StaleSheet";
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
  const rows = differences(revision.document, open.document);
  return (
    <Sheet
      title={`Revision ${revision.number}, ${clock(revision.saved_at)}, by ${revision.author}`}
      onClose={onClose}
      wide
    >
      <p className="font-label break-all text-quiet">SHA-256 {revision.sha256}</p>
      <h3 className="mt-3 font-semibold">{rows.length ? "What has changed since" : "Nothing has changed since."}</h3>
      <table className="w-full">
        <tbody>
          {rows.map(([path, then, now]) => (
            <tr key={path} className="border-b border-line align-top">
              <td className="py-1 pr-3 font-label">{path}</td>
              <td className="py-1 pr-3 break-all">{then} then</td>
              <td className="py-1 break-all">{now} now</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3 className="mt-4 font-semibold">The whole document</h3>
      <pre className="overflow-x-auto text-note">{JSON.stringify(revision.document, null, 2)}</pre>
    </Sheet>
  );
}
