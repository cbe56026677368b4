/** The server's last answers, kept on this device and given where the server can not be reached. */
import { atRest, everKept, opened } from "./opened";
import type { Answer } from "./store";

/** What was worked out, the oldest forgotten first; what was read, a plan, a run, a log, the catalogue, is not pushed out by it. */
const MOST = { POST: 60, GET: 240 };
/** What is worked out from a plan as it was asked: the same question has the same answer. */
const WORKED_OUT = /^\/api\/(analyse|check|holds|way|anchors|moment)$/;
/** Not kept: large, or worth nothing when old; where a run is stands in the run that is kept. */
const NOT = /\/(doing|now$|events|verified|export|bundle|handover|backup|readings|photographs)/;
/** Whoever signs in or out leaves nothing of the one before. */
const SIGNS = /^\/api\/(session|(join|look)\/[^/]+)$/;

interface Asked {
  key: string;
  asked: string;
}

async function askedOf(request: Request): Promise<Asked | null> {
  const url = new URL(request.url);
  const key = `${request.method} ${url.pathname}${url.search}`;
  if (request.method === "GET") return NOT.test(url.pathname) ? null : { key, asked: "" };
  // While a finger moves only what it shows is asked; that is not kept.
  if (request.method !== "POST" || !WORKED_OUT.test(url.pathname) || /[?&](only|directions)=/.test(url.search))
    return null;
  const asked = await request.clone().text();
  return { key: `${key} ${short(asked)}`, asked };
}

function short(text: string): number {
  let found = 0;
  for (let at = 0; at < text.length; at++) found = (Math.imul(found, 31) + text.charCodeAt(at)) | 0;
  return found;
}

/** Counts up whenever what is kept is forgotten: what was asked before and is not kept yet is forgotten, too. */
let forgotten = 0;

/** `since`: how often all was forgotten when it was asked. */
async function keep(asked: Asked, answer: Response, since: number): Promise<void> {
  const row = { ...asked, at: Date.now(), body: await answer.text() };
  await atRest;
  const store = await opened();
  if (since !== forgotten) return;
  await store.answers.put(row);
  const kind = asked.key.startsWith("POST") ? "POST" : "GET";
  const keys = await store.answers.where("key").startsWith(kind).primaryKeys();
  if (keys.length <= MOST[kind]) return;
  const rows = (await store.answers.bulkGet(keys)).flatMap((one) => (one ? [one] : []));
  rows.sort((a, b) => a.at - b.at);
  await store.answers.bulkDelete(rows.slice(0, rows.length - MOST[kind]).map((one) => one.key));
}

async function known(key: string): Promise<Answer | undefined> {
  return (await opened()).answers.get(key);
}

const LEFT = "outrigger.left";

/** Whether whoever was here has left, and the server is still to be told. */
export function left(now?: boolean): boolean {
  if (now === true) localStorage.setItem(LEFT, "1");
  if (now === false) localStorage.removeItem(LEFT);
  return localStorage.getItem(LEFT) !== null;
}

export async function forget(): Promise<void> {
  forgotten++;
  if (await everKept()) await (await opened()).answers.clear();
}

let asking = 0;

/** Whether an answer is waited for. */
export const isAsking = () => asking > 0;

/** Like fetch; without a connection, what was last answered to the same question. */
export async function keptFetch(request: Request): Promise<Response> {
  const since = forgotten;
  const asked = await askedOf(request);
  const { pathname } = new URL(request.url);
  asking++;
  try {
    const answer = await fetch(request);
    if (answer.ok && request.method !== "GET" && SIGNS.test(pathname)) {
      const copy = answer.clone();
      left(false);
      await forget().catch(() => null);
      void keep({ key: "GET /api/session", asked: "" }, copy, forgotten).catch(() => null);
    } else if (answer.ok && asked) void keep(asked, answer.clone(), since).catch(() => null);
    return answer;
  } catch (error) {
    const found = asked ? await known(asked.key).catch(() => undefined) : undefined;
    if (!found || found.asked !== asked?.asked) throw error;
    return new Response(found.body, { headers: { "Content-Type": "application/json" } });
  } finally {
    asking--;
  }
}

/** What became of a kept answer since: a plan saved from here, a run moved on, an entry heard. */
export async function amend<T>(path: string, change: (answer: T) => T): Promise<void> {
  const store = await opened();
  await store.transaction("rw", store.answers, async () => {
    const found = await store.answers.get(`GET ${path}`);
    if (found) await store.answers.put({ ...found, body: JSON.stringify(change(JSON.parse(found.body) as T)) });
  });
}
