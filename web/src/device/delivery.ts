/**
 * The one delivery of a device: what was done here goes out from whatever page is shown, once, in order, over a reload
 * and a restart. Three lanes, each by itself: stops, acts and entries, photographs. It stays here until the server has
 * it or has refused it for good.
 */
import { liveQuery } from "dexie";
import { answered, api, csrf, RETRY_MS, setCsrfToken } from "./client";
import type { Entry, Fault, Run } from "../api/types";
import { sendLeftBehind } from "./plans";
import { store, type Waiting } from "./store";

/** A network that swallows everything is no network. */
const PATIENCE_MS = 6000;
const PHOTO_PATIENCE_MS = 90_000;
/** What is not allowed now may be after a new sign-in, or another role: tried again so often. */
const HELD_MS = 20_000;
/** How often it is looked whether a plan's page was left with something to send. */
const LEFT_MS = 5000;
const NAME = "outrigger.delivery";

export type Lane = "stops" | "acts" | "photographs";
const LANES: Lane[] = ["stops", "acts", "photographs"];

/** What became of one, told to every page of this browser. */
export interface Delivered {
  plan: string;
  id: string;
  run?: Run;
  entry?: Entry;
  /** The run had moved on: where it is. */
  moved?: Run;
  faults?: Fault[];
}

const bus = "BroadcastChannel" in window ? new BroadcastChannel(NAME) : null;
const told = new Set<(said: Delivered) => void>();
if (bus) bus.onmessage = (event: MessageEvent<Delivered>) => told.forEach((one) => one(event.data));

/** Hears what becomes of what is sent. */
export function onDelivered(tell: (said: Delivered) => void): () => void {
  told.add(tell);
  return () => told.delete(tell);
}

function say(said: Delivered): void {
  bus?.postMessage(said);
  told.forEach((one) => one(said));
}

export function laneOf({ item }: Waiting): Lane {
  if (item.type === "photo") return "photographs";
  return item.type === "act" && item.act.act === "stop" ? "stops" : "acts";
}

/** How far this device's clock is ahead of the server's, as last told. */
let aheadMs = 0;
export function setAhead(ms: number): void {
  aheadMs = ms;
}

/** Sends what waits under one person's name until it is ended; `signedOut` is called where nobody, or somebody else, is signed in. */
export function deliver(me: string, signedOut: () => void): () => void {
  let rows: Waiting[] = [];
  let over = false;
  const busy = new Set<Lane>();
  const held = new Map<string, number>();
  const timers = new Map<Lane, number>();
  // Photographs and entries go from one tab alone; a stop from each, at once: sent twice it is one.
  let mine: Lane[] = ["stops"];

  const run = async (lane: Lane) => {
    if (busy.has(lane) || !mine.includes(lane)) return;
    window.clearTimeout(timers.get(lane));
    busy.add(lane);
    try {
      for (let one = next(lane); one && !over; one = next(lane)) await send(one);
    } catch {
      // Every one that waits was done without a connection, or still is.
      await store.waiting
        .where({ by: me })
        .modify({ offline: true })
        .catch(() => null);
      later(lane, RETRY_MS);
    } finally {
      busy.delete(lane);
    }
    if (held.size) later(lane, HELD_MS);
  };
  const later = (lane: Lane, ms: number) => {
    window.clearTimeout(timers.get(lane));
    if (!over)
      timers.set(
        lane,
        window.setTimeout(() => void run(lane), ms),
      );
  };
  const next = (lane: Lane) =>
    rows.find((one) => one.by === me && laneOf(one) === lane && (held.get(one.id) ?? 0) < Date.now());

  const send = async (one: Waiting) => {
    let answer = await sent(one, aheadMs);
    if (answer.status === 401 || answer.status === 403) {
      if ((await renewed()) !== me) {
        signedOut();
        throw new TypeError("nobody of that name is signed in");
      }
      answer = await sent(one, aheadMs);
    }
    const { status, error } = answer;
    const faults = (error as { faults?: Fault[] } | undefined)?.faults;
    if ([401, 403, 404].includes(status)) {
      held.set(one.id, Date.now() + HELD_MS);
      say({ plan: one.plan, id: one.id, faults: [...(faults ?? []), WAITS] });
      return;
    }
    if (status === 507) say({ plan: one.plan, id: one.id, faults: [FULL] });
    if (status >= 500 || [408, 425, 429].includes(status)) throw new TypeError(`answered ${status}`);
    if (answer.entry) say({ plan: one.plan, id: one.id, entry: answer.entry });
    await store.waiting.delete(one.place!);
    // The list is told of it a moment later: until then it is not sent again.
    rows = rows.filter((row) => row.id !== one.id);
    if (status === 409) say({ plan: one.plan, id: one.id, moved: (error as { run: Run }).run });
    else if (status >= 400)
      say({
        plan: one.plan,
        id: one.id,
        faults: faults ?? [{ path: "server", problem: `answered ${status}`, right: "try again" }],
      });
    else say({ plan: one.plan, id: one.id, run: answer.run });
  };

  const all = () => LANES.forEach((lane) => void run(lane));
  // Plans that were edited and left: what waits of them does not wait for their page.
  let sending = false;
  const plans = async () => {
    if (sending || over || mine !== LANES) return;
    sending = true;
    await sendLeftBehind(me).catch(() => null);
    sending = false;
  };
  const looks = window.setInterval(() => void plans(), LEFT_MS);
  const watched = liveQuery(() => store.waiting.where({ by: me }).sortBy("place")).subscribe((found) => {
    const come = found.some((one) => !rows.some((row) => row.id === one.id));
    rows = found;
    // A mark on one that waits is nothing new to send: it has its time.
    if (come) all();
  });
  let release = () => {};
  const lead = () => {
    mine = LANES;
    all();
    return new Promise<void>((done) => (release = done));
  };
  const locks = window.isSecureContext ? navigator.locks : undefined;
  if (locks) void locks.request(NAME, async () => (over ? undefined : lead())).catch(() => null);
  else void lead();
  const now = () => {
    held.clear();
    all();
  };
  window.addEventListener("online", now);
  return () => {
    over = true;
    watched.unsubscribe();
    window.removeEventListener("online", now);
    timers.forEach((timer) => window.clearTimeout(timer));
    window.clearInterval(looks);
    release();
  };
}

const WAITS: Fault = {
  path: "device",
  problem: "it waits on this device",
  right: "sign in with a role that may do it",
};
const FULL: Fault = {
  path: "disk",
  problem: "the server's disk is full",
  right: "make room there: what you did waits on this device",
};

/** Who is signed in by now, perhaps from another tab; what is sent is sent with their token. */
async function renewed(): Promise<string> {
  const session = answered(await api.GET("/api/session"));
  setCsrfToken(session.csrf_token);
  return session.username;
}

interface Answer {
  status: number;
  error?: unknown;
  run?: Run;
  entry?: Entry;
}

/** Sends one, and what the server says to it. */
async function sent(one: Waiting, aheadMs: number): Promise<Answer> {
  const path = { params: { path: { plan_id: one.plan } } };
  const stamped = { id: one.id, device_time: one.made, device_ahead_ms: aheadMs };
  // Under the name of whoever did it, or not at all.
  const headers = { "X-Signed-In-As": encodeURIComponent(one.by) };
  if (one.item.type === "act") {
    const body = { ...one.item.act, ...stamped, kept: one.offline };
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const answer = await api.POST("/api/plans/{plan_id}/run", { ...path, body, headers, signal });
    return { status: answer.response.status, error: answer.error, run: answer.data };
  }
  if (one.item.type === "entry") {
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const body = { ...one.item.entry, ...stamped };
    const answer = await api.POST("/api/plans/{plan_id}/log", { ...path, body, headers, signal });
    return { status: answer.response.status, error: answer.error, entry: answer.data };
  }
  const form = new FormData();
  form.set("id", one.id);
  form.set("file", one.item.file, one.item.name);
  form.set("name", one.item.name);
  form.set("step", one.item.step);
  form.set("text", one.item.text ?? "");
  form.set("device_time", one.made);
  form.set("device_ahead_ms", String(aheadMs));
  const answer = await fetch(`/api/plans/${one.plan}/photographs`, {
    method: "POST",
    body: form,
    headers: { ...headers, "X-CSRFToken": csrf() },
    signal: AbortSignal.timeout(PHOTO_PATIENCE_MS),
  });
  return { status: answer.status, error: answer.ok ? undefined : ((await answer.json()) as unknown) };
}
