/** The run as every device sees it: read once, then told live; what is done here waits on the device until the server has it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { answered, api, RETRY_MS } from "../../device/client";
import type { Entry, Log, Procedure, Run, RunOut } from "../../api/types";
import { ahead } from "../../device/ahead";
import { amend } from "../../device/answers";
import { setAhead } from "../../device/delivery";
import { hear, isConnected, stops, watch } from "../../device/live";
import { useOutbox, type Outbox } from "../../device/outbox";
import type { Waiting } from "../../device/store";
import { toldOf } from "../../ui/faults";
import { take as takeReadings, type Readings, type Samples } from "./samples";

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
    queryFn: async () => {
      const known = queries.getQueryData<RunOut>(["run", plan]);
      const now = known ? (await api.GET("/api/plans/{plan_id}/run/now", path).catch(() => null))?.data : null;
      // Its operation is long; what is there already is not sent again.
      if (known && now?.composed === known.composed) return { ...known, ...now };
      return answered(await api.GET("/api/plans/{plan_id}/run", path));
    },
    retry: true,
    retryDelay: RETRY_MS,
    staleTime: Infinity,
  });
  const [heard, listen] = useState<Entry[]>([]);
  const connected = useSyncExternalStore(watch, isConnected);
  const [refused, refuse] = useState<string | null>(null);
  const [samples] = useState(() => new Map<string, Samples>());

  const take = useCallback(
    (run: Run) => {
      // The clock of a table-top says nothing of the device's own.
      if (typeof run.pace !== "number") setAhead(Math.round(Date.now() - Date.parse(run.now)));
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
    let gone = false;
    let timer = 0;
    let last: number | undefined;
    let deaf = () => {};
    const add = (entries: Entry[]) => {
      void amend<Log>(`/api/plans/${plan}/log`, (old) => {
        const known = new Set(old.entries.map((one) => one.id));
        const fresh = entries.filter((one) => !known.has(one.id));
        return { ...old, entries: [...old.entries, ...fresh], total: old.total + fresh.length };
      });
      last = Math.max(last ?? 0, ...entries.map((one) => one.sequence));
      listen((old) => {
        const known = new Set(old.map((one) => one.id));
        return [...old, ...entries.filter((one) => !known.has(one.id))].slice(-HEARD);
      });
    };
    const tell = (name: string, data: unknown) => {
      if (name === "entry") add([data as Entry]);
      if (name === "run") take(data as Run);
      if (name === "readings") takeReadings(samples, data as Readings);
    };
    const begin = async () => {
      try {
        const page = answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan } } }));
        if (gone) return;
        add(page.entries);
        deaf = hear({ plan, after: () => last, tell });
      } catch {
        if (!gone) timer = window.setTimeout(() => void begin(), RETRY_MS);
      }
    };
    void begin();
    return () => {
      gone = true;
      window.clearTimeout(timer);
      deaf();
    };
  }, [plan, take, samples]);

  const outbox = useOutbox(plan, {
    me,
    onRun: take,
    onMoved: (run) => {
      take(run);
      refuse("The run has moved on meanwhile: this is the step now.");
    },
    onRefused: (faults) => refuse(toldOf(faults)),
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
  const called = useSyncExternalStore(watch, stops).get(plan)?.stopped;
  const state = read.data?.run ?? null;
  // A stop is told before the run that it makes, and stands until that is here.
  const told: Run | null =
    state && called && state.status === "going" ? { ...state, status: "stopped", stopped: called } : state;
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
