/** One open plan: the document as edited, its report, and the queue of what still has to be saved. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api, Refused, RETRY_MS } from "../device/client";
import { newId } from "../device/newId";
import type { Document, Fault, NewEntry, Plan, Report, Revision, Stale, WholeReport } from "../api/types";
import { useSettings } from "../ui/settings";
import { amend } from "../device/answers";
import { SHOW_MS, sendOne, showing, writeKept } from "../device/plans";
import { withSave, without, type Kept } from "../device/queue";
import { back, did, NO_HISTORY, on, type History } from "./history";
import { useFollowing } from "./useFollowing";
import { useStill } from "./useStill";

const QUIET_MS = 700;
const BEHIND_MS = 200;

export type Saving = "saved" | "waiting" | "offline" | "stale" | "refused";

export interface Went {
  undone: boolean;
  from: Document;
  to: Document;
}

export interface OpenPlan {
  plan: Plan;
  document: Document;
  revision: Revision;
  report: Report | null;
  /** What takes every state, as it was when the document was last still. */
  whole: WholeReport | null;
  /** Why the document as it stands can not be analysed or saved. */
  faults: Fault[];
  saving: Saving;
  waitingEntries: Omit<NewEntry, "id" | "revision">[];
  stale: Stale | null;
  canEdit: boolean;
  canLog: boolean;
  edit: (change: (document: Document) => Document) => void;
  /** One step back or on again; null where there is none. */
  undo: (() => void) | null;
  redo: (() => void) | null;
  /** What the last of these went from and to, until something else is done. */
  went: Went | null;
  record: (entry: Omit<NewEntry, "id" | "revision">) => void;
  putMineOnTop: () => void;
  takeTheirs: () => void;
}

/**
 * `behind`: another report follows the finger here, and this one comes when the document is still. `shown`: the state
 * that is looked at; while something moves only that one is told, and all of them once it is still. `run`: the load is
 * looked at so many metres up its way (null: where the plan has it). `left`: what this device kept of it for `me`.
 */
export function useOpenPlan(
  plan: Plan,
  left: Kept | null,
  me: string,
  behind: boolean,
  shown: string | null,
  run: number | null,
): OpenPlan {
  const queries = useQueryClient();
  const [found] = useState<Kept>(() => ({
    ...(left ?? { base: plan.latest.number, waiting: [], draft: null }),
    by: me,
  }));
  const kept = useRef<Kept>(found);
  const [document, setDocument] = useState<Document>(found.draft ?? plan.latest.document);
  const [revision, setRevision] = useState<Revision>(plan.latest);
  const [saving, setSaving] = useState<Saving>(found.waiting.length ? "waiting" : "saved");
  const [stale, setStale] = useState<Stale | null>(null);
  const [waitingEntries, setWaitingEntries] = useState<OpenPlan["waitingEntries"]>([]);
  const underWay = useRef<string | null>(null);
  const timer = useRef<number>(0);
  const [{ force, length }] = useSettings();
  const still = useStill(document, BEHIND_MS);
  const asked = behind ? still : document;
  const only = !behind && shown && (still !== document || run !== null) ? shown : null;
  const analyse = useCallback(
    async () =>
      answered(
        await api.POST("/api/analyse", {
          body: asked,
          params: {
            query: {
              ...(only ? { only } : {}),
              ...(run === null ? {} : { run_m: run }),
              force_unit: force,
              length_unit: length,
            },
          },
        }),
      ),
    [asked, only, run, force, length],
  );
  const { answer: report, faults } = useFollowing(analyse);
  const [whole, setWhole] = useState<WholeReport | null>(null);
  if (report?.whole && report.whole !== whole) setWhole(report.whole);

  const keep = useCallback(
    (change: Partial<Kept>) => {
      kept.current = { ...kept.current, ...change };
      void writeKept(plan.id, kept.current);
      setWaitingEntries(kept.current.waiting.flatMap((item) => (item.type === "log" ? [item.entry] : [])));
    },
    [plan.id],
  );

  const again = useRef(() => {});
  const send = useCallback(async () => {
    if (underWay.current) return;
    try {
      for (let item = kept.current.waiting[0]; item; item = kept.current.waiting[0]) {
        underWay.current = item.id;
        const { saved, stale } = await sendOne(plan.id, kept.current, item);
        if (stale) {
          setStale(stale);
          setSaving("stale");
          return;
        }
        if (saved) {
          setRevision(saved);
          void amend<Plan>(`/api/plans/${plan.id}`, (old) => ({ ...old, latest: saved }));
        } else await queries.invalidateQueries({ queryKey: ["log", plan.id] });
        keep(without(kept.current, item, saved));
      }
      setSaving("saved");
    } catch (error) {
      if (error instanceof Refused && (error.status === 422 || error.status === 413)) {
        // What the server refuses is not sent again; the draft keeps it, and the faults say what is wrong.
        const refused = underWay.current;
        keep({ waiting: kept.current.waiting.filter((other) => other.id !== refused) });
        setSaving("refused");
        if (kept.current.waiting.length) timer.current = window.setTimeout(() => again.current(), RETRY_MS);
      } else {
        // Signed out meanwhile: the sign-in comes up in place of the sheet, and what is kept here is sent after it.
        if (error instanceof Refused && [401, 403].includes(error.status))
          void queries.invalidateQueries({ queryKey: ["session"] });
        setSaving("offline");
        timer.current = window.setTimeout(() => again.current(), RETRY_MS);
      }
    } finally {
      underWay.current = null;
    }
  }, [keep, plan.id, queries]);

  useEffect(() => {
    const now = () => void send();
    again.current = now;
    window.addEventListener("online", now);
    const shown = window.setInterval(() => void writeKept(plan.id, kept.current), SHOW_MS);
    const hide = showing(plan.id);
    now();
    return () => {
      hide();
      window.clearInterval(shown);
      window.removeEventListener("online", now);
      window.clearTimeout(timer.current);
    };
  }, [send, plan.id]);

  const later = useCallback(
    (wait: number) => {
      setSaving((old) => (old === "offline" ? old : "waiting"));
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void send(), wait);
    },
    [send],
  );

  const latest = useRef(document);
  latest.current = document;
  const [history, setHistory] = useState<History<Document>>(NO_HISTORY);
  const [went, setWent] = useState<Went | null>(null);
  const put = useCallback(
    (next: Document) => {
      latest.current = next;
      setDocument(next);
      keep({ draft: next, waiting: withSave(kept.current.waiting, next, underWay.current) });
      later(QUIET_MS);
    },
    [keep, later],
  );
  const edit = useCallback(
    (change: (old: Document) => Document) => {
      const before = latest.current;
      const at = Date.now();
      setHistory((old) => did(old, before, at));
      setWent(null);
      put(change(before));
    },
    [put],
  );
  const step = (found: [History<Document>, Document] | null, undone: boolean) =>
    found &&
    (() => {
      setHistory(found[0]);
      setWent({ undone, from: document, to: found[1] });
      put(found[1]);
    });

  const record = useCallback(
    (entry: Omit<NewEntry, "id" | "revision">) => {
      const said = { ...entry, device_time: new Date().toISOString() };
      keep({ waiting: [...kept.current.waiting, { type: "log", id: newId(), entry: said }] });
      later(0);
    },
    [keep, later],
  );

  const putMineOnTop = () => {
    if (!stale) return;
    keep({ base: stale.latest.number });
    setStale(null);
    later(0);
  };
  const takeTheirs = () => {
    if (!stale) return;
    keep({
      base: stale.latest.number,
      draft: null,
      waiting: kept.current.waiting.filter((item) => item.type === "log"),
    });
    latest.current = stale.latest.document;
    setDocument(stale.latest.document);
    setHistory(NO_HISTORY);
    setWent(null);
    setRevision(stale.latest);
    setStale(null);
    later(0);
  };

  const role = plan.team.role;
  return {
    plan,
    document,
    revision,
    report,
    whole,
    faults,
    saving,
    waitingEntries,
    stale,
    canEdit: role === "leader",
    canLog: role !== "observer",
    edit,
    undo: role === "leader" ? step(back(history, document), true) : null,
    redo: role === "leader" ? step(on(history, document), false) : null,
    went,
    record,
    putMineOnTop,
    takeTheirs,
  };
}
