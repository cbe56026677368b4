/** The run as every device sees it: read once, then told live; what is done here waits on the device until the server has it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api, RETRY_MS } from "../../api/client";
import type { Entry, Log, Procedure, Run, RunOut } from "../../api/types";
import { ahead } from "../../device/ahead";
import { amend } from "../../device/answers";
import { useOutbox, type Outbox } from "../../device/outbox";
import type { Waiting } from "../../device/store";
import { toldOf } from "../../ui/faults";
import { take as takeReadings, type Readings, type Samples } from "./samples";

/** The server beats every five seconds. */
const QUIET_MS = 13_000;
const TWICE_MS = 700;
/** Entries kept on the page; older ones are read from the log. */
const HEARD = 60;

export type Act = Extract<Waiting["item"], { type: "act" }>["act"];

export interface LiveRun {
  out: RunOut;
  /** Where the run is; without a connection, after what was done on this device. */
  run: Run | null;
  /** The newest entries, oldest first. */
  heard: Entry[];
  connected: boolean;
  /** What is not yet with the server, in order. */
  waiting: Waiting[];
  /** What was refused, or that somebody else moved the run on meanwhile. */
  refused: string | null;
  act: (act: Act) => void;
  put: Outbox["put"];
  dismiss: () => void;
  /** What load cells have read lately, by cell; it is written into as readings come. */
  samples: Map<string, Samples>;
}

export function useRun(plan: string, me: string): LiveRun | null {
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
  const aheadMs = useRef(0);
  const [samples] = useState(() => new Map<string, Samples>());

  const take = useCallback(
    (run: Run) => {
      aheadMs.current = Math.round(Date.now() - Date.parse(run.now));
      void amend<RunOut>(`/api/plans/${plan}/run`, (old) => ({ ...old, run }));
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
      void amend<Log>(`/api/plans/${plan}/log`, (old) => {
        const known = new Set(old.entries.map((one) => one.id));
        const fresh = entries.filter((one) => !known.has(one.id));
        return { ...old, entries: [...old.entries, ...fresh], total: old.total + fresh.length };
      });
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
      const on = <T>(name: string, told: (data: T) => void) =>
        source?.addEventListener(name, (event) => {
          heardOf();
          told(JSON.parse((event as MessageEvent<string>).data) as T);
        });
      on<Entry>("entry", (entry) => add([entry]));
      on<Run>("run", take);
      on<Readings>("readings", (said) => takeReadings(samples, said));
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
  }, [plan, take, samples]);

  const outbox = useOutbox(plan, {
    me,
    connected,
    aheadMs: () => aheadMs.current,
    onRun: take,
    onMoved: (run) => {
      take(run);
      refuse("The run has moved on meanwhile: this is the step now.");
    },
    onRefused: (faults) => refuse(toldOf(faults)),
    onSignedOut: () => void queries.invalidateQueries({ queryKey: ["session"] }),
  });
  const procedures = useProcedures(read.data?.team ?? null);
  const { put, waiting } = outbox;
  const touchedRef = useRef(0);
  const act = useCallback(
    (one: Act) => {
      refuse(null);
      // Without a connection the step moves on at once: a second touch of a gloved hand is not the next step.
      if (one.act === "done" && !connected) {
        if (Date.now() - touchedRef.current < TWICE_MS) return;
        touchedRef.current = Date.now();
      }
      put({ type: "act", act: one });
    },
    [put, connected],
  );
  const offline = waiting.filter((one) => one.offline);
  const told = read.data?.run ?? null;
  const run = told && read.data ? ahead(told, read.data.operation, offline, procedures) : null;

  if (!read.data) return null;
  return { out: read.data, run, heard, connected, waiting, refused, act, put, dismiss: () => refuse(null), samples };
}

/** What a team does when something else happens: kept on the device, for when there is no connection. */
export function useProcedures(team: number | null): Procedure[] {
  const found = useQuery({
    queryKey: ["procedures", team],
    enabled: team !== null,
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/procedures", { params: { path: { team_id: team! } } })),
    staleTime: Infinity,
  });
  return found.data?.procedures ?? NONE;
}

const NONE: Procedure[] = [];
