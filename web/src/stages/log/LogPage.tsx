/** The log of this plan: who decided what, when, why, and the plan as it was at that moment. */
import { useState } from "react";
import { answered, api } from "../../api/client";
import type { Entry, Revision } from "../../api/types";
import { differences } from "../../app/StaleSheet";
import type { OpenPlan } from "../../plan/usePlan";
import { clock, day } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";

const KIND: Record<Entry["kind"], string> = {
  decision: "decided",
  observation: "seen",
  correction: "correction",
  imported: "read in",
  signed: "signed",
  run: "run",
  step: "step",
  stop: "STOP",
  go: "going on",
  contingency: "something else",
  reading: "reading",
  photo: "photograph",
  here: "people",
  plan: "plan changed",
};

export function LogPage({ open, log, offline }: { open: OpenPlan; log: Entry[]; offline: boolean }) {
  const [shown, show] = useState<Revision | null>(null);
  const [correcting, correct] = useState<Entry | null>(null);
  const plan_id = open.plan.id;
  const openRevision = async (number: number) =>
    show(answered(await api.GET("/api/plans/{plan_id}/revisions/{number}", { params: { path: { plan_id, number } } })));
  const exportPlan = async () => {
    const bundle = answered(await api.GET("/api/plans/{plan_id}/export", { params: { path: { plan_id } } }));
    const link = window.document.createElement("a");
    link.href = URL.createObjectURL(new Blob([JSON.stringify(bundle, null, 2)], { type: "application/json" }));
    link.download = `${bundle.document.title.replace(/[^\p{L}\p{N}]+/gu, "-").toLowerCase()}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <main className="min-h-0 overflow-y-auto bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto text-lg font-semibold">Log</h2>
        {offline ? (
          <p className="font-semibold text-over">◆ No connection: entries from others may be missing here.</p>
        ) : null}
        <button type="button" className="button" onClick={() => void exportPlan()}>
          Export plan and log
        </button>
      </div>
      {log.length === 0 ? (
        <p className="mt-4 text-lg">Nothing yet. Write a decision below; it is kept with the plan as it is now.</p>
      ) : null}
      <ol className="mt-2">
        {[...log].reverse().map((entry) => (
          <li key={entry.id} className="grid gap-x-4 border-b border-line py-2.5 sm:grid-cols-[9.5rem_1fr_auto]">
            <p className="font-label text-quiet">
              {day(entry.time)}, {clock(entry.time)}
              <br />
              {entry.author}, {KIND[entry.kind]}
            </p>
            <div className="min-w-0">
              <p className="text-lg leading-snug font-semibold break-words">{entry.decision}</p>
              {entry.reason ? <p className="break-words">because {entry.reason}</p> : null}
              {entry.considered ? (
                <p className="font-label whitespace-pre-line text-quiet">Considered: {entry.considered}</p>
              ) : null}
              {entry.corrects ? (
                <p className="font-label text-quiet">
                  Puts right entry {log.find((other) => other.id === entry.corrects)?.sequence ?? ""}
                </p>
              ) : null}
              <p className="font-label text-[15px] text-quiet">
                entry {entry.sequence}, sealed {entry.hash.slice(0, 12)}
              </p>
            </div>
            <div className="flex flex-wrap items-start gap-2">
              <button type="button" className="button" onClick={() => void openRevision(entry.revision)}>
                Plan as it was, revision {entry.revision}
              </button>
              {open.canLog ? (
                <button type="button" className="button" onClick={() => correct(entry)}>
                  Correct
                </button>
              ) : null}
            </div>
          </li>
        ))}
      </ol>
      {shown ? <RevisionSheet revision={shown} open={open} onClose={() => show(null)} /> : null}
      {correcting ? <CorrectSheet entry={correcting} open={open} onClose={() => correct(null)} /> : null}
    </main>
  );
}

function RevisionSheet({ revision, open, onClose }: { revision: Revision; open: OpenPlan; onClose: () => void }) {
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
      <pre className="overflow-x-auto text-[15px]">{JSON.stringify(revision.document, null, 2)}</pre>
    </Sheet>
  );
}

function CorrectSheet({ entry, open, onClose }: { entry: Entry; open: OpenPlan; onClose: () => void }) {
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
