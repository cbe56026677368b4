/** The one way to the server: typed by the generated schema. */
import createClient from "openapi-fetch";
import { keptFetch } from "../device/answers";
import type { paths } from "./schema";
import type { Fault } from "./types";

/** Until a server that could not be reached is asked again. */
export const RETRY_MS = 2000;

let csrfToken = "";

export function setCsrfToken(token: string): void {
  csrfToken = token;
}

export function csrf(): string {
  return csrfToken;
}

/** A fresh random id (UUID version 4), also where the page came without encryption, as on a team's own network. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: keptFetch });
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken);
    return request;
  },
});

/** A refusal by the server, with the fields it names. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly faults: Fault[],
  ) {
    super(faults.map((fault) => `${fault.path}: ${fault.problem}; ${fault.right}`).join("\n"));
  }
}

/** The data of an answer, or a Refused. A broken connection stays the TypeError that fetch throws. */
export function answered<T>(result: { data?: T; error?: unknown; response: Response }): T {
  if (result.data !== undefined) return result.data;
  const body = result.error as { faults?: Fault[] } | undefined;
  const unknown: Fault = { path: "server", problem: `answered ${result.response.status}`, right: "try again" };
  throw new Refused(result.response.status, body?.faults ?? [unknown]);
}
