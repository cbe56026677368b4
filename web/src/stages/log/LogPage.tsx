/** The log of this plan: who decided what, when, why, and the plan as it was at that moment. */
import { useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { answered, api } from "../../api/client";
import type { Entry, Revision } from "../../api/types";
import { differences } from "../../app/StaleSheet";
import type { OpenPlan } from "../../plan/usePlan";
import { Choice } from "../../ui/fields";
import { clock, day } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { Small } from "../../ui/Small";
import { Wrong } from "../../ui/Wrong";
import { useLog, type Filter } from "./useLog";

/** A device whose clock is further off than this is said. */
const CLOCK_MS = 2000;
/** A row of few words is just as high, and needs no measuring. */
const ROW_PX = 112;
/** A log longer than this has its seals worked out again every so many entries, not after each. */
const LONG = 2000;
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
  conflict: "two at once",
  alarm: "load cell",
};

/** Newest first, read in pages as they are scrolled to; only what is in view is laid out. */
export function LogPage({ open }: { open: OpenPlan }) {
  const [shown, show] = useState<Revision | null>(null);
  const [correcting, correct] = useState<Entry | null>(null);
  const [filter, setFilter] = useState<Filter>({ kind: "", who: "", step: "", words: "" });
  const plan_id = open.plan.id;
  const scroller = useRef<HTMLElement>(null);
  const log = useLog(plan_id, filter);
  // eslint-disable-next-line react-hooks/incompatible-library -- it is not handed on to anything that is kept
  const rows = useVirtualizer({
    count: log.total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
    useFlushSync: false,
    // Counted from the first, so that a row keeps its height when the log grows.
    getItemKey: (index) => log.total - index,
  });
  const items = rows.getVirtualItems();
  const { look } = log;
  useEffect(() => look(items[0]?.index ?? 0, items.at(-1)?.index ?? 0));
  const openRevision = useCallback(
    async (number: number) =>
      show(
        answered(await api.GET("/api/plans/{plan_id}/revisions/{number}", { params: { path: { plan_id, number } } })),
      ),
    [plan_id],
  );
  const onStep = useCallback((step: string) => setFilter((old) => ({ ...old, step })), []);
  const exportPlan = async () => {
    const bundle = answered(await api.GET("/api/plans/{plan_id}/export", { params: { path: { plan_id } } }));
    const link = window.document.createElement("a");
    link.href = URL.createObjectURL(new Blob([JSON.stringify(bundle, null, 2)], { type: "application/json" }));
    link.download = `${bundle.document.title.replace(/[^\p{L}\p{N}]+/gu, "-").toLowerCase()}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <main ref={scroller} className="min-h-0 overflow-y-auto bg-sheet px-4 py-3" tabIndex={-1}>
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-lg font-semibold">Log</h2>
        <Sealed plan={plan_id} newest={log.at(0)?.sequence ?? 0} />
        {log.lost ? (
          <p className="font-semibold text-over">◆ No connection: entries from others may be missing here.</p>
        ) : null}
        <Link to={`/plans/${plan_id}/debrief`} className="button ml-auto inline-flex items-center">
          Debrief
        </Link>
        <Link to={`/plans/${plan_id}/handover`} className="button inline-flex items-center">
          Hand over
        </Link>
        <button type="button" className="button" onClick={() => void exportPlan()}>
          Export plan and log
        </button>
      </div>
      <Filters filter={filter} onFilter={setFilter} total={log.total} people={log.people} />
      {log.total === 0 && log.loaded ? (
        <p className="mt-4 text-lg">
          {Object.values(filter).some(Boolean)
            ? "Nothing in the log fits this."
            : "Nothing yet. Write a decision below; it is kept with the plan as it is now."}
        </p>
      ) : null}
      <ol className="relative mt-2" style={{ height: rows.getTotalSize() }} aria-label="Entries, newest first">
        {items.map((item) => {
          const entry = log.at(item.index);
          return (
            <li
              key={item.key}
              ref={rows.measureElement}
              data-index={item.index}
              className="absolute inset-x-0 grid min-h-28 content-start gap-x-4 border-b border-line py-2.5 sm:grid-cols-[9.5rem_1fr_auto]"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              {entry ? (
                <Row
                  entry={entry}
                  plan={plan_id}
                  onStep={onStep}
                  onRevision={openRevision}
                  onCorrect={open.canLog ? correct : null}
                />
              ) : (
                <p className="font-label text-quiet">…</p>
              )}
            </li>
          );
        })}
      </ol>
      {shown ? <RevisionSheet revision={shown} open={open} onClose={() => show(null)} /> : null}
      {correcting ? <CorrectSheet entry={correcting} open={open} onClose={() => correct(null)} /> : null}
    </main>
  );
}

function Filters({
  filter,
  onFilter,
  total,
  people,
}: {
  filter: Filter;
  onFilter: (filter: Filter) => void;
  total: number;
  people: string[];
}) {
  const [words, setWords] = useState(filter.words);
  const kinds = [{ id: "", name: "everything" }, ...Object.entries(KIND).map(([id, name]) => ({ id, name }))];
  const names = [...new Set([...(filter.who ? [filter.who] : []), ...people])];
  return (
    <form
      aria-label="Search the log"
      className="mt-1 flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onFilter({ ...filter, words: words.trim() });
      }}
    >
      <div className="w-48">
        <Choice
          label="kind"
          value={filter.kind}
          options={kinds}
          onChange={(kind) => onFilter({ ...filter, kind: kind as Filter["kind"] })}
        />
      </div>
      <div className="w-44">
        <Choice
          label="person"
          value={filter.who}
          options={[{ id: "", name: "everybody" }, ...names.map((one) => ({ id: one, name: one }))]}
          onChange={(who) => onFilter({ ...filter, who: who ?? "" })}
        />
      </div>
      <label className="min-w-44 flex-1">
        <span className="field-label">words</span>
        <input className="field" value={words} maxLength={200} onChange={(event) => setWords(event.target.value)} />
      </label>
      <button type="submit" className="button">
        Search
      </button>
      {filter.step ? (
        <button type="button" className="button" onClick={() => onFilter({ ...filter, step: "" })}>
          Only step {filter.step}: show all
        </button>
      ) : null}
      <p className="min-w-24 pb-2.5 font-label text-quiet" role="status" data-testid="found">
        {total} {total === 1 ? "entry" : "entries"}
      </p>
    </form>
  );
}

/** Every seal worked out again by the server, whenever the log has grown. */
function Sealed({ plan, newest }: { plan: string; newest: number }) {
  const found = useQuery({
    queryKey: ["verified", plan, newest > LONG ? Math.floor(newest / LONG) : newest],
    enabled: newest > 0,
    staleTime: Infinity,
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/log/verified", { params: { path: { plan_id: plan } } })),
  });
  if (!found.data) return null;
  const { broken, entries } = found.data;
  return broken.length ? (
    <Wrong>{broken.join("; ")}</Wrong>
  ) : (
    <p className="font-label text-quiet" data-testid="sealed">
      {entries} {entries === 1 ? "entry" : "entries"}, every seal fits
    </p>
  );
}

interface RowProps {
  entry: Entry;
  plan: string;
  onStep: (step: string) => void;
  onRevision: (number: number) => Promise<void>;
  onCorrect: ((entry: Entry) => void) | null;
}

const Row = memo(function Row({ entry, plan, onStep, onRevision, onCorrect }: RowProps) {
  const ahead = entry.device_ahead_ms ?? 0;
  return (
    <>
      <p className="font-label text-quiet">
        {day(entry.time)}, {clock(entry.time)}
        <br />
        {entry.author}, {KIND[entry.kind]}
        {Math.abs(ahead) > CLOCK_MS ? (
          <>
            <br />
            device clock {Math.round(Math.abs(ahead) / 1000)} s {ahead > 0 ? "ahead" : "behind"}
          </>
        ) : null}
      </p>
      <div className="min-w-0">
        <p className={`text-lg leading-snug font-semibold break-words ${entry.kind === "stop" ? "text-over" : ""}`}>
          {entry.kind === "stop" ? "◆ " : ""}
          {entry.decision}
        </p>
        {entry.reason ? <p className="break-words">because {entry.reason}</p> : null}
        {entry.considered ? (
          <p className="font-label whitespace-pre-line text-quiet">Considered: {entry.considered}</p>
        ) : null}
        {entry.corrects ? <p className="font-label text-quiet">Puts right entry {entry.corrects_sequence}</p> : null}
        {entry.kind === "photo" ? <Small plan={plan} entry={entry} /> : null}
        <p className="font-label text-[15px] text-quiet">
          entry {entry.sequence}, sealed {entry.hash.slice(0, 12)}
          {entry.step ? (
            <button type="button" className="ml-2 min-h-11 px-1 underline" onClick={() => onStep(entry.step)}>
              all of step {entry.step}
            </button>
          ) : null}
        </p>
      </div>
      <div className="flex flex-wrap items-start gap-2">
        <button type="button" className="button" onClick={() => void onRevision(entry.revision)}>
          Plan as it was, revision {entry.revision}
        </button>
        {onCorrect ? (
          <button type="button" className="button" onClick={() => onCorrect(entry)}>
            Correct
          </button>
        ) : null}
      </div>
    </>
  );
});

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
