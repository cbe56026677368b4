/** A run with its whole log and what its cells read, for going through it again. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../device/client";
import type { Debrief, Entry } from "../../api/types";

export interface Whole {
  debrief: Debrief;
  entries: Entry[];
  /** When it began and ended, in ms since the epoch. */
  from: number;
  to: number;
}

/** Where the whole log of a plan is kept, oldest entry first. */
export const logOf = (plan: string) => ["log", plan, "all"];

export function useDebrief(plan: string): { whole: Whole | null; fault: Error | null } {
  const path = { params: { path: { plan_id: plan } } };
  const debrief = useQuery({
    queryKey: ["debrief", plan],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/debrief", path)),
    retry: false,
  });
  const log = useQuery({
    queryKey: logOf(plan),
    queryFn: async () => {
      const found: Entry[] = [];
      for (;;) {
        const page = answered(
          await api.GET("/api/plans/{plan_id}/log", {
            params: { path: { plan_id: plan }, query: { place: found.length } },
          }),
        );
        found.push(...page.entries);
        if (!page.entries.length || found.length >= page.total) return found;
      }
    },
  });
  const cells = debrief.data?.cells ?? [];
  if (!debrief.data || !log.data) return { whole: null, fault: debrief.error };
  const from = Date.parse(debrief.data.run.begun_at);
  const entries = log.data.filter((one) => Date.parse(one.time) >= from);
  const last = Math.max(
    from + 60_000,
    ...entries.map((one) => Date.parse(one.time)),
    ...cells.map((one) => one.to_ms),
    debrief.data.ended_at ? Date.parse(debrief.data.ended_at) : 0,
  );
  return { whole: { debrief: debrief.data, entries, from, to: last }, fault: null };
}
