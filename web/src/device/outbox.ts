/**
 * What was done on this device in a run, sent in order and once: acts, what was seen, photographs. It stays here until the
 * server has it, over a reload and a restart; what was done without a connection is sent as such.
 */
import { useLiveQuery } from "dexie-react-hooks";
import { useCallback, useEffect, useReducer, useRef } from "react";
import { api, csrf, newId, RETRY_MS } from "../api/client";
import type { Entry, Fault, Run } from "../api/types";
import { store, type Waiting } from "./store";

/** A network that swallows everything is no network. */
const PATIENCE_MS = 6000;
const PHOTO_PATIENCE_MS = 90_000;
/** The server has no room left: nothing of it was kept there. */
const FULL = 507;

interface Told {
  me: string;
  connected: boolean;
  aheadMs: () => number;
  onRun?: (run: Run) => void;
  onMoved?: (run: Run) => void;
  /** An entry as the server has it, before it no longer waits. */
  onEntry?: (entry: Entry) => void;
  onRefused: (faults: Fault[]) => void;
  onSignedOut: () => void;
}

/** Plans whose waiting things a page of theirs sends. */
export const tended = new Set<string>();

export interface Outbox {
  /** What waits of this plan, in order. */
  waiting: Waiting[];
  put: (item: Waiting["item"]) => void;
}

export function useOutbox(plan: string, told: Told): Outbox {
  const waiting = useLiveQuery(() => store.waiting.where({ plan }).sortBy("place"), [plan]) ?? NOTHING;
  const nowRef = useRef(told);
  nowRef.current = told;
  // Two lanes: a stop never waits for what else is on its way, be it a photograph on a slow line.
  const sendingRef = useRef<Record<Lane, boolean>>({ stops: false, rest: false });
  const [tries, again] = useReducer((count: number) => count + 1, 0);
  const { connected } = told;
  useEffect(() => {
    tended.add(plan);
    return () => void tended.delete(plan);
  }, [plan]);
  useEffect(() => {
    let timer = 0;
    const send = async (lane: Lane) => {
      if (sendingRef.current[lane]) return;
      sendingRef.current[lane] = true;
      const next = () => first(plan, nowRef.current.me, lane);
      try {
        for (let one = await next(); one; one = await next()) if (!(await sent(one, nowRef.current))) return;
      } catch {
        // Every one that waits was done without a connection, or still is.
        await store.waiting
          .where({ plan })
          .modify({ offline: true })
          .catch(() => null);
        timer = window.setTimeout(again, RETRY_MS);
      } finally {
        sendingRef.current[lane] = false;
      }
    };
    void send("stops");
    void send("rest");
    window.addEventListener("online", again);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener("online", again);
    };
  }, [plan, tries, connected]);
  const put = useCallback(
    (item: Waiting["item"]) => {
      const { me, connected, onRefused } = nowRef.current;
      const row = { id: newId(), plan, by: me, made: new Date().toISOString(), offline: !connected, item };
      store.waiting.add(row).then(again, () =>
        onRefused([
          {
            path: "device",
            problem: "this device has no room left to keep it",
            right: "free some, then do it again",
          },
        ]),
      );
    },
    [plan],
  );
  return { waiting, put };
}

const NOTHING: Waiting[] = [];

type Lane = "stops" | "rest";

/** The next of a lane, in the order in which it was done. What another person did here waits for their sign-in. */
async function first(plan: string, me: string, lane: Lane): Promise<Waiting | undefined> {
  const mine = (await store.waiting.where({ plan }).sortBy("place")).filter((one) => one.by === me);
  return mine.find((one) => isStop(one) === (lane === "stops"));
}

export function isStop(one: Waiting): boolean {
  return one.item.type === "act" && one.item.act.act === "stop";
}

/** One sent: whether to go on with the next. Throws where the server can not be reached. */
async function sent(one: Waiting, told: Told): Promise<boolean> {
  const { status, error, run, entry } = await answerTo(one, told.aheadMs());
  if (status === 401) {
    told.onSignedOut();
    return false;
  }
  if (status === FULL)
    told.onRefused([
      {
        path: "disk",
        problem: "the server's disk is full",
        right: "make room there: what you did waits on this device",
      },
    ]);
  if (status >= 500) throw new TypeError(`answered ${status}`);
  if (entry) told.onEntry?.(entry);
  await store.waiting.delete(one.place!);
  if (status === 409) told.onMoved?.((error as { run: Run }).run);
  else if (status >= 400)
    told.onRefused(
      (error as { faults?: Fault[] } | undefined)?.faults ?? [
        { path: "server", problem: `answered ${status}`, right: "try again" },
      ],
    );
  else if (run) told.onRun?.(run);
  return true;
}

interface Answer {
  status: number;
  error?: unknown;
  run?: Run;
  entry?: Entry;
}

/** Sends one, and what the server says to it. */
export async function answerTo(one: Waiting, aheadMs: number): Promise<Answer> {
  const path = { params: { path: { plan_id: one.plan } } };
  const stamped = { id: one.id, device_time: one.made, device_ahead_ms: aheadMs };
  if (one.item.type === "act") {
    const body = { ...one.item.act, ...stamped, kept: one.offline };
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const answer = await api.POST("/api/plans/{plan_id}/run", { ...path, body, signal });
    return { status: answer.response.status, error: answer.error, run: answer.data };
  }
  if (one.item.type === "entry") {
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const answer = await api.POST("/api/plans/{plan_id}/log", {
      ...path,
      body: { ...one.item.entry, ...stamped },
      signal,
    });
    return { status: answer.response.status, error: answer.error, entry: answer.data };
  }
  const form = new FormData();
  form.set("id", one.id);
  form.set("file", one.item.file, one.item.name);
  form.set("name", one.item.name);
  form.set("step", one.item.step);
  form.set("device_time", one.made);
  form.set("device_ahead_ms", String(aheadMs));
  const answer = await fetch(`/api/plans/${one.plan}/photographs`, {
    method: "POST",
    body: form,
    headers: { "X-CSRFToken": csrf() },
    signal: AbortSignal.timeout(PHOTO_PATIENCE_MS),
  });
  return { status: answer.status, error: answer.ok ? undefined : ((await answer.json()) as unknown) };
}
