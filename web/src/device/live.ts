/**
 * The one live connection of a browser. One of its tabs holds it, for the plans that any of them shows, and passes on
 * what it hears to the others; a line that has gone quiet, or a tab that no longer passes anything on, is noticed and
 * replaced. STOPs of every plan come on it, whatever is shown.
 */
import { RETRY_MS } from "./client";
import { newId } from "./newId";
import type { Run } from "../api/types";

/** The server beats every five seconds. */
const QUIET_MS = 13_000;
const SHOW_MS = 3000;
const GATHER_MS = 40;
const NAME = "outrigger.live";

type Tell = (name: string, data: unknown) => void;

/** `after`: the last entry that is there, undefined for what comes from now on. */
interface Listener {
  plan: string;
  after: () => number | undefined;
  tell: Tell;
}

type Wants = Record<string, number | null>;

type Message =
  | { type: "want"; tab: string; wants: Wants; fresh: boolean }
  | { type: "gone"; tab: string }
  | { type: "heard"; plan: string; name: string; data: unknown }
  | { type: "line"; connected: boolean };

const tab = newId();
const listeners = new Set<Listener>();
const others = new Map<string, { wants: Wants; at: number }>();
let passing: BroadcastChannel | null = null;
let source: EventSource | null = null;
let leading = false;
let quiet = 0;
let opening = 0;

export type Stopped = NonNullable<Run["stopped"]>;
/** A stop, and what the plan that it is on is called, where that was told. */
export interface Called {
  stopped: Stopped;
  title: string;
}
let stopped: ReadonlyMap<string, Called> = new Map();
let connected = false;
const watchers = new Set<() => void>();

export function watch(changed: () => void): () => void {
  watchers.add(changed);
  return () => watchers.delete(changed);
}

/** Who has called stop, by plan. */
export function stops(): ReadonlyMap<string, Called> {
  return stopped;
}

/** Whether what others do is heard here now. */
export function isConnected(): boolean {
  return connected;
}

function changed(): void {
  watchers.forEach((one) => one());
}

/** Hears of a plan until the answer is called. */
export function hear(listener: Listener): () => void {
  listeners.add(listener);
  want(true);
  return () => {
    listeners.delete(listener);
    want(false);
  };
}

/** What this tab wants to hear: of each plan, from the earliest entry that a page of it lacks. */
function wanted(): Wants {
  const found: Wants = {};
  for (const one of listeners) found[one.plan] = earlier(found[one.plan], one.after() ?? null);
  return found;
}

function earlier(a: number | null | undefined, b: number | null): number | null {
  if (a === undefined || a === null) return b;
  return b === null ? a : Math.min(a, b);
}

function want(fresh: boolean): void {
  post({ type: "want", tab, wants: wanted(), fresh });
  if (fresh && leading) reopen();
}

function post(message: Message): void {
  passing?.postMessage(message);
}

function reopen(): void {
  window.clearTimeout(opening);
  opening = window.setTimeout(open, GATHER_MS);
}

function open(): void {
  window.clearTimeout(opening);
  source?.close();
  source = null;
  if (!leading) return;
  const all = wanted();
  for (const [name, one] of others) {
    if (Date.now() - one.at > QUIET_MS) others.delete(name);
    else for (const [plan, after] of Object.entries(one.wants)) all[plan] = earlier(all[plan], after);
  }
  const plans = Object.entries(all).map(([plan, after]) => `plan=${plan}${after === null ? "" : `:${after}`}`);
  const line = (source = new EventSource(`/api/live?${plans.join("&")}`));
  let of = "";
  line.onopen = () => alive(true);
  line.onerror = () => {
    if (source !== line) return;
    alive(false);
    line.close();
    window.clearTimeout(opening);
    opening = window.setTimeout(open, RETRY_MS);
  };
  line.addEventListener("of", (event) => {
    of = JSON.parse((event as MessageEvent<string>).data) as string;
  });
  for (const name of ["entry", "run", "readings", "stopped", "beat"])
    line.addEventListener(name, (event) => {
      alive(true);
      const data: unknown = JSON.parse((event as MessageEvent<string>).data);
      const plan = name === "stopped" ? (data as { plan: string }).plan : of;
      take(name, plan, data);
      post({ type: "heard", plan, name, data });
    });
}

/** What was heard, here or by the tab that holds the line. */
function take(name: string, plan: string, data: unknown): void {
  if (name === "stopped" || name === "run") {
    const said = data as { stopped: Stopped | null; status?: string; title?: string };
    const now = said.status === "ended" ? null : said.stopped;
    const known = stopped.get(plan);
    if (known?.stopped.at !== now?.at || known?.stopped.why !== now?.why) {
      const next = new Map(stopped);
      if (now) next.set(plan, { stopped: now, title: said.title ?? known?.title ?? "" });
      else next.delete(plan);
      stopped = next;
      changed();
    }
  }
  for (const one of listeners) if (one.plan === plan) one.tell(name, data);
}

/** A sign of life, or the loss of it. */
function alive(on: boolean): void {
  window.clearTimeout(quiet);
  quiet = window.setTimeout(lost, QUIET_MS);
  if (leading) post({ type: "line", connected: on });
  if (connected === on) return;
  connected = on;
  changed();
}

/** Nothing for too long: the line is opened anew, or taken over from a tab that has gone to sleep with it. */
function lost(): void {
  alive(false);
  if (leading) open();
  else lead(true);
}

let release = () => {};

function lead(steal: boolean): void {
  const locks = window.isSecureContext ? navigator.locks : undefined;
  if (!locks) {
    // Without locks tabs can not agree on one: each has a line of its own.
    leading = true;
    open();
    return;
  }
  const held = () => {
    leading = true;
    open();
    return new Promise<void>((done) => (release = done));
  };
  locks.request(NAME, { steal }, held).catch(() => {
    // Another tab has taken it over: this one listens to that.
    leading = false;
    source?.close();
    source = null;
    if (passing) lead(false);
  });
}

/** Begins to listen for whoever is signed in; what it answers ends that. */
export function begin(): () => void {
  if (window.isSecureContext && "BroadcastChannel" in window) {
    passing = new BroadcastChannel(NAME);
    passing.onmessage = (event: MessageEvent<Message>) => {
      const said = event.data;
      if (said.type === "want") {
        others.set(said.tab, { wants: said.wants, at: Date.now() });
        if (said.fresh && leading) reopen();
      } else if (said.type === "gone") others.delete(said.tab);
      else if (!leading && said.type === "line") alive(said.connected);
      else if (!leading && said.type === "heard") {
        alive(true);
        take(said.name, said.plan, said.data);
      }
    };
  }
  lead(false);
  want(true);
  quiet = window.setTimeout(lost, QUIET_MS);
  const shown = window.setInterval(() => want(false), SHOW_MS);
  const off = () => {
    alive(false);
    source?.close();
    source = null;
  };
  const on = () => {
    if (leading) open();
  };
  window.addEventListener("offline", off);
  window.addEventListener("online", on);
  return () => {
    post({ type: "gone", tab });
    passing?.close();
    passing = null;
    window.clearInterval(shown);
    window.clearTimeout(quiet);
    window.clearTimeout(opening);
    window.removeEventListener("offline", off);
    window.removeEventListener("online", on);
    source?.close();
    source = null;
    leading = false;
    release();
    stopped = new Map();
    connected = false;
    changed();
  };
}
