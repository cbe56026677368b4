/** Two people saved the same plan: both versions side by side, and nothing overwritten until somebody chooses. */
import type { Document, Stale } from "../api/types";
import type { OpenPlan } from "./usePlan";
import { clock } from "../ui/format";
import { Sheet } from "../ui/Sheet";

/** Every leaf in which two documents differ, as path, mine, theirs. */
export function differences(mine: unknown, theirs: unknown, path = ""): [string, string, string][] {
  if (JSON.stringify(mine) === JSON.stringify(theirs)) return [];
  const both = [mine, theirs];
  if (both.every((one) => typeof one === "object" && one !== null)) {
    const names = new Set(both.flatMap((one) => Object.keys(one)));
    return [...names].flatMap((name) => {
      const [a, b] = both.map((one) => (one as Record<string, unknown>)[name]);
      return differences(a, b, Array.isArray(mine) ? `${path}[${name}]` : path ? `${path}.${name}` : name);
    });
  }
  const text = (value: unknown) => (value === undefined ? "absent" : JSON.stringify(value));
  return [[path, text(mine), text(theirs)]];
}

function download(document: Document, name: string) {
  const link = window.document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(document, null, 2)], { type: "application/json" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

export function StaleSheet({ open, stale }: { open: OpenPlan; stale: Stale }) {
  const { latest } = stale;
  const rows = differences(open.document, latest.document);
  return (
    <Sheet title="Somebody saved in between" onClose={() => {}} wide>
      <p className="text-answer">
        You started from revision {stale.base}. {latest.author} saved revision {latest.number} at{" "}
        {clock(latest.saved_at)}. Nothing is overwritten until you choose.
      </p>
      <table className="mt-3 w-full">
        <thead>
          <tr className="border-b-2 border-ink text-left">
            <th>What differs</th>
            <th>Mine</th>
            <th>Theirs, revision {latest.number}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([path, mine, theirs]) => (
            <tr key={path} className="border-b border-line align-top">
              <td className="py-1 pr-3 font-label">{path}</td>
              <td className="py-1 pr-3 break-all">{mine}</td>
              <td className="py-1 break-all">{theirs}</td>
            </tr>
          ))}
        </tbody>
      </table>
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
