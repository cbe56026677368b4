/** The operation put in order: a revision of the plan, which everybody's run then follows. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { components } from "../../api/schema";
import type { RunOut } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { wrongOf } from "../../ui/faults";

export type Course = components["schemas"]["Course"];
export type Pace = components["schemas"]["Pace"];

/** How long the team itself took for its work, in the runs that it has ended. */
export function usePaces(team: number): Pace[] {
  const found = useQuery({
    queryKey: ["paces", team],
    queryFn: async () => answered(await api.GET("/api/teams/{team_id}/paces", { params: { path: { team_id: team } } })),
  });
  return found.data ?? NONE;
}

const NONE: Pace[] = [];

/** What stands open in the check, in words; null while nobody knows. */
export function useBefore(plan: string): string | null {
  const found = useQuery({
    queryKey: ["run", plan, "before"],
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/run/before", { params: { path: { plan_id: plan } } })),
  });
  return found.data?.text ?? null;
}

export function useArranging(plan: string, out: RunOut) {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const saved = async (send: (id: string) => Promise<unknown>) => {
    setBusy(true);
    try {
      await send(newId());
      setWrong(null);
    } catch (error) {
      setWrong(wrongOf(error));
    }
    await Promise.all(
      [["run", plan], ["plan", plan], ["plans"]].map((key) => queries.invalidateQueries({ queryKey: key })),
    );
    setBusy(false);
  };
  const path = { params: { path: { plan_id: plan } } };
  const base = out.latest;
  const arrange = (operation: Course) =>
    saved(async (id) =>
      answered(await api.PUT("/api/plans/{plan_id}/operation", { ...path, body: { id, base, operation } })),
    );
  const pace = (paces: Pace[]) =>
    saved(async (id) => answered(await api.PUT("/api/plans/{plan_id}/paces", { ...path, body: { id, base, paces } })));
  return { arrange, pace, busy, wrong };
}
