/** Signing out: nothing of whoever was here is left to be read, with or without a connection. What they did and is not sent waits under their name. */
import type { Session } from "../api/types";
import { forget, left } from "./answers";
import { answered, api, setCsrfToken } from "./client";

/** Signed out here at once; at the server now, or as soon as it can be reached: then null. */
export async function leave(): Promise<Session | null> {
  left(true);
  await forget().catch(() => null);
  return api
    .DELETE("/api/session")
    .then(answered)
    .catch(() => null);
}

/** Who is signed in; whoever left without a connection is signed out first. */
export async function whoIsIn(): Promise<Session> {
  const session = answered(await api.GET("/api/session"));
  if (!left()) return session;
  setCsrfToken(session.csrf_token);
  const gone = session.username ? await api.DELETE("/api/session").then(answered) : session;
  left(false);
  return gone;
}
