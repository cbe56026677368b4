/** The log of this plan: who decided what, when, why, and the plan as it was at that moment. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";
import { Link } from "react-router";
import { answered, api } from "../../device/client";
import type { Entry, Revision } from "../../api/types";
import type { OpenPlan } from "../../plan/usePlan";
import { Drawer } from "../../ui/Drawer";
import { CorrectSheet } from "./CorrectSheet";
import { EntryOpened } from "./EntryOpened";
import { Filters } from "./Filters";
import { Line, turnsTo } from "./Line";
import { RevisionSheet } from "./RevisionSheet";
import { Sealed } from "./Sealed";
import { useLog, type Filter } from "./useLog";

/** A row of few words is just as high, and needs no measuring. */
const ROW_PX = 25;

/** Newest first, read in pages as they are scrolled to; only what is in view is laid out. */
export function LogPage({ open }: { open: OpenPlan }) {
  const [shown, show] = useState<Revision | null>(null);
  const [correcting, correct] = useState<Entry | null>(null);
  const [looked, lookAt] = useState<string | null>(null);
  const [filter, setFilter] = useState<Filter>({ kind: "", who: "", step: "", words: "" });
  const plan_id = open.plan.id;
  const name = useId();
  const scroller = useRef<HTMLDivElement>(null);
  const log = useLog(plan_id, filter);
  // eslint-disable-next-line react-hooks/incompatible-library -- it is not handed on to anything that is kept
  const rows = useVirtualizer({
    count: log.total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    useFlushSync: false,
    // Counted from the first, so that a row keeps its height when the log grows.
    getItemKey: (index) => log.total - index,
  });
  const items = rows.getVirtualItems();
  const { look } = log;
  useEffect(() => look(items[0]?.index ?? 0, items.at(-1)?.index ?? 0));
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
  const here = items.findIndex((item) => log.at(item.index)?.id === looked);
  const opened = here < 0 ? null : log.at(items[here]!.index)!;
  const keys = (event: KeyboardEvent) => {
    if (event.key === "Escape") lookAt(null);
    const from = items[here]?.index ?? -1;
    const asked = { ArrowDown: from + 1, ArrowUp: from - 1, Home: 0, End: log.total - 1 }[event.key];
    if (asked === undefined) return;
    event.preventDefault();
    const to = Math.min(log.total - 1, Math.max(0, asked));
    rows.scrollToIndex(to);
    const entry = log.at(to);
    if (entry) lookAt(entry.id);
  };
  return (
    <main className="flex min-h-0 min-w-0 flex-1 flex-col overflow-y-auto bg-sheet" tabIndex={-1}>
      <div className="px-4">
        <div className="flex flex-wrap items-center gap-2">
          <h2 className="text-answer font-semibold">Log</h2>
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
          <p className="mt-4 text-answer">
            {Object.values(filter).some(Boolean)
              ? "Nothing in the log fits this."
              : "Nothing yet. Write a decision below; it is kept with the plan as it is now."}
          </p>
        ) : null}
      </div>
      <div ref={scroller} className="min-h-60 flex-1 overflow-y-auto px-4">
        {log.total ? (
          <div
            role="listbox"
            tabIndex={0}
            aria-label="Entries, newest first"
            aria-activedescendant={opened ? `${name}-${opened.sequence}` : undefined}
            className="relative"
            style={{ height: rows.getTotalSize() }}
            onKeyDown={keys}
          >
            {items.map((item) => {
              const entry = log.at(item.index);
              const turn = entry ? turnsTo(entry, item.index ? log.at(item.index - 1) : undefined) : "";
              return (
                <div
                  key={item.key}
                  ref={rows.measureElement}
                  data-index={item.index}
                  id={entry ? `${name}-${entry.sequence}` : undefined}
                  role="option"
                  tabIndex={-1}
                  aria-selected={entry !== undefined && entry.id === looked}
                  className={`absolute inset-x-0 cursor-pointer border-b border-line py-0.5 ${entry && entry.id === looked ? "bg-tint" : "hover:bg-film"}`}
                  style={{ transform: `translateY(${item.start}px)` }}
                  onClick={() => entry && lookAt(entry.id === looked ? null : entry.id)}
                  onKeyDown={() => {}}
                >
                  {turn ? (
                    <span className="mb-0.5 block border-b border-ink font-label text-note text-quiet">{turn}</span>
                  ) : null}
                  {entry ? <Line entry={entry} plan={plan_id} /> : <span className="font-label text-quiet">…</span>}
                </div>
              );
            })}
          </div>
        ) : null}
      </div>
      {opened ? (
        <Drawer name="Entry" usual={0.36}>
          <EntryOpened
            entry={opened}
            plan={plan_id}
            onStep={(step) => setFilter((old) => ({ ...old, step }))}
            onRevision={openRevision}
            onCorrect={open.canLog ? correct : null}
          />
        </Drawer>
      ) : null}
      {shown ? <RevisionSheet revision={shown} open={open} onClose={() => show(null)} /> : null}
      {correcting ? <CorrectSheet entry={correcting} open={open} onClose={() => correct(null)} /> : null}
    </main>
  );
}
