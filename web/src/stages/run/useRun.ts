/** The run as every device sees it: read once, then told live; acts are kept here until the server has them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api, newId, Refused } from "../../api/client";
import type { Entry, Run, RunAct, RunOut } from "../../api/types";

const RETRY_MS = 2000;
/** The server beats every five seconds. */
const QUIET_MS = 13_000;
/** Entries kept on the page; older ones are read from the log. */
const HEARD = 60;

export type Act = Omit<RunAct, "id" | "device_time" | "device_ahead_ms">;
type Kept = Omit<RunAct, "device_ahead_ms"> & { device_time: string };

export interface LiveRun {
  out: RunOut;
  run: Run | null;
  /** The newest entries, oldest first. */
  heard: Entry[];
  connected: boolean;
  /** Acts not yet with the server. */
  waiting: number;
  /** What was refused, or that somebody else moved the run on meanwhile. */
  refused: string | null;
  act: (act: Act) => void;
  dismiss: () => void;
  /** How far this device's clock is ahead of the server's, in milliseconds. */
  aheadMs: number;
}

function keptActs(plan: string): Kept[] {
  return JSON.parse(localStorage.getItem(`outrigger.acts.${plan}`) ?? "[]") as Kept[];
}

export function useRun(plan: string): LiveRun | null {
  const queries = useQueryClient();
  const path = { params: { path: { plan_id: plan } } };
  const read = useQuery({
    queryKey: ["run", plan],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/run", path)),
    retry: true,
    retryDelay: RETRY_MS,
    staleTime: Infinity,
  });
  const [heard, hear] = useState<Entry[]>([]);
  const [connected, connect] = useState(false);
  const [refused, refuse] = useState<string | null>(null);
  const [waiting, setWaiting] = useState(() => keptActs(plan).length);
  const ahead = useRef(0);

  const take = useCallback(
    (run: Run) => {
      ahead.current = Math.round(Date.now() - Date.parse(run.now));
      queries.setQueryData<RunOut>(["run", plan], (old) => {
        if (!old) return old;
        // A late answer does not undo a later one.
        if (old.run && old.run.id === run.id && old.run.version > run.version) return old;
        if (run.status !== "ended" && old.composed !== run.operation)
          void queries.invalidateQueries({ queryKey: ["run", plan] });
        return { ...old, run };
      });
    },
    [plan, queries],
  );

  useEffect(() => {
    let source: EventSource | null = null;
    let gone = false;
    let timer = 0;
    let last = -1;
    const add = (entries: Entry[]) => {
      last = Math.max(last, ...entries.map((one) => one.sequence));
      hear((old) => {
        const known = new Set(old.map((one) => one.id));
        return [...old, ...entries.filter((one) => !known.has(one.id))].slice(-HEARD);
      });
    };
    const listen = () => {
      window.clearTimeout(timer);
      source?.close();
      if (gone) return;
      source = new EventSource(`/api/plans/${plan}/events?after=${last}`);
      const heardOf = () => {
        connect(true);
        window.clearTimeout(timer);
        // A line that has gone quiet is dead, whatever the browser thinks of it: opened anew from the last entry here.
        timer = window.setTimeout(() => {
          connect(false);
          listen();
        }, QUIET_MS);
      };
      source.onopen = heardOf;
      source.addEventListener("beat", heardOf);
      source.addEventListener("entry", (event) => add([JSON.parse((event as MessageEvent<string>).data) as Entry]));
      source.addEventListener("run", (event) => take(JSON.parse((event as MessageEvent<string>).data) as Run));
      source.onerror = () => {
        connect(false);
        window.clearTimeout(timer);
        timer = window.setTimeout(listen, RETRY_MS);
      };
    };
    const lost = () => {
      connect(false);
      source?.close();
    };
    window.addEventListener("offline", lost);
    window.addEventListener("online", listen);
    const begin = async () => {
      try {
        const page = answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan } } }));
        add(page.entries);
        last = Math.max(last, 0);
        if (!gone) listen();
      } catch {
        if (!gone) timer = window.setTimeout(() => void begin(), RETRY_MS);
      }
    };
    void begin();
    return () => {
      gone = true;
      window.clearTimeout(timer);
      window.removeEventListener("offline", lost);
      window.removeEventListener("online", listen);
      source?.close();
    };
  }, [plan, take]);

  const sending = useRef(false);
  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (let next = keptActs(plan)[0]; next; next = keptActs(plan)[0]) {
        const body = { ...next, device_ahead_ms: ahead.current };
        const result = await api.POST("/api/plans/{plan_id}/run", { params: { path: { plan_id: plan } }, body });
        const rest = keptActs(plan).filter((one) => one.id !== next.id);
        const done = () => {
          localStorage.setItem(`outrigger.acts.${plan}`, JSON.stringify(rest));
          setWaiting(rest.length);
        };
        if (result.response.status === 409) {
          const moved = result.error as unknown as { run: Run };
          done();
          take(moved.run);
          refuse("The run has moved on meanwhile: this is the step now.");
          continue;
        }
        if (result.response.status >= 500) throw new TypeError("server");
        try {
          take(answered(result));
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
          if (error.status === 401) {
            void queries.invalidateQueries({ queryKey: ["session"] });
            return;
          }
          refuse(
            error.faults
              .map((one) => `${one.problem[0]?.toUpperCase()}${one.problem.slice(1)}: ${one.right}.`)
              .join(" "),
          );
        }
        done();
      }
    } catch {
      window.setTimeout(() => void again.current(), RETRY_MS);
    } finally {
      sending.current = false;
    }
  }, [plan, queries, take]);
  const again = useRef(send);
  again.current = send;
  useEffect(() => {
    const now = () => void send();
    // What this device kept from before goes out once the page stands.
    const soon = window.setTimeout(now);
    window.addEventListener("online", now);
    return () => {
      window.clearTimeout(soon);
      window.removeEventListener("online", now);
    };
  }, [send]);

  const act = useCallback(
    (one: Act) => {
      refuse(null);
      const kept = [...keptActs(plan), { ...one, id: newId(), device_time: new Date().toISOString() } as Kept];
      localStorage.setItem(`outrigger.acts.${plan}`, JSON.stringify(kept));
      setWaiting(kept.length);
      void send();
    },
    [plan, send],
  );

  if (!read.data) return null;
  const { data: out } = read;
  return {
    out,
    run: out.run ?? null,
    heard,
    connected,
    waiting,
    refused,
    act,
    dismiss: () => refuse(null),
    aheadMs: ahead.current,
  };
}
