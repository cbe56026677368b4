/** What was done on this device in a run: put where it waits to be sent, and what became of it. */
import { useLiveQuery } from "dexie-react-hooks";
import { useCallback, useEffect, useRef } from "react";
import { newId } from "./newId";
import type { Entry, Fault, Run } from "../api/types";
import { onDelivered } from "./delivery";
import { isConnected } from "./live";
import { rested } from "./opened";
import { store, type Waiting } from "./store";

interface Told {
  me: string;
  onRun?: (run: Run) => void;
  onMoved?: (run: Run) => void;
  /** An entry as the server has it, before it no longer waits. */
  onEntry?: (entry: Entry) => void;
  onRefused: (faults: Fault[]) => void;
}

export interface Outbox {
  /** What waits of this plan, in order. */
  waiting: Waiting[];
  put: (item: Waiting["item"]) => void;
}

export function useOutbox(plan: string, told: Told): Outbox {
  const waiting = useLiveQuery(() => store.waiting.where({ plan }).sortBy("place"), [plan]) ?? NOTHING;
  const nowRef = useRef(told);
  nowRef.current = told;
  // A STOP may be the first thing that is done here.
  useEffect(rested, []);
  useEffect(
    () =>
      onDelivered((said) => {
        if (said.plan !== plan) return;
        const { onEntry, onMoved, onRun, onRefused } = nowRef.current;
        if (said.entry) onEntry?.(said.entry);
        if (said.run) onRun?.(said.run);
        if (said.moved) onMoved?.(said.moved);
        if (said.faults) onRefused(said.faults);
      }),
    [plan],
  );
  const put = useCallback(
    (item: Waiting["item"]) => {
      const { me, onRefused } = nowRef.current;
      const row = { id: newId(), plan, by: me, made: new Date().toISOString(), offline: !isConnected(), item };
      store.waiting.add(row).catch(() =>
        onRefused([
          {
            path: "device",
            problem: "this device has no room left to keep it",
            right: "free some, then do it again",
          },
        ]),
      );
    },
    [plan],
  );
  return { waiting, put };
}

const NOTHING: Waiting[] = [];
