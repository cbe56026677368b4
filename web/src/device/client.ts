/** The one way to the server: typed by the generated schema. */
import createClient from "openapi-fetch";
import { keptFetch } from "./answers";
import type { paths } from "../api/schema";
import type { Fault } from "../api/types";

/** Until a server that could not be reached is asked again. */
export const RETRY_MS = 2000;

let csrfToken = "";

export function setCsrfToken(token: string): void {
  csrfToken = token;
}

export function csrf(): string {
  return csrfToken;
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
