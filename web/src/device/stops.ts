/** A stop that waits on this device is sent from whatever page is shown: also from one of another plan, also after a reload. */
import { liveQuery } from "dexie";
import { RETRY_MS } from "../api/client";
import { answerTo, isStop, tended } from "./outbox";
import { store, type Waiting } from "./store";

/** Sends them under one person's sign-in, until it is ended. */
export function tendStops(me: string): () => void {
  let waiting: Waiting[] = [];
  let sending = false;
  let timer = 0;
  const send = async () => {
    window.clearTimeout(timer);
    if (sending) return;
    sending = true;
    try {
      for (const one of waiting.filter((row) => row.by === me && !tended.has(row.plan))) {
        const { status } = await answerTo(one, 0);
        if (status !== 401 && status < 500) await store.waiting.delete(one.place!);
      }
    } catch {
      // The server can not be reached.
    } finally {
      sending = false;
      if (waiting.length) timer = window.setTimeout(() => void send(), RETRY_MS);
    }
  };
  const watched = liveQuery(() => store.waiting.filter(isStop).toArray()).subscribe((rows) => {
    waiting = rows;
    void send();
  });
  return () => {
    watched.unsubscribe();
    window.clearTimeout(timer);
  };
}
