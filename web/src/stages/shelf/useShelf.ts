/** The team's shelf, its own pulls, and a plan's gear against it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Fault, Packing, Piece, PullMade, Pulls } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { asForm } from "../../device/upload";
import { faultsOf, wrongOf } from "../../ui/faults";
import { useSettings } from "../../ui/settings";

const KEPT = "nothing is lost: try again";

export function useShelf(team: number) {
  const queries = useQueryClient();
  const key = ["shelf", team];
  const path = { params: { path: { team_id: team } } };
  const shelf = useQuery({
    queryKey: key,
    queryFn: async () => answered(await api.GET("/api/teams/{team_id}/shelf", path)),
  });
  /** The piece kept, or why not, by field. */
  const keep = async (piece: Piece): Promise<Fault[]> => {
    const at = { params: { path: { team_id: team, label: piece.label } } };
    try {
      queries.setQueryData(
        key,
        answered(await api.PUT("/api/teams/{team_id}/shelf/pieces/{label}", { ...at, body: piece })),
      );
      return [];
    } catch (error) {
      return faultsOf(error, KEPT);
    }
  };
  const read = async (file: File, bring: boolean) => {
    const body = { file: file as unknown as string, bring };
    const found = answered(
      await api.POST("/api/teams/{team_id}/shelf/file", { ...path, body, bodySerializer: asForm }),
    );
    if (found.brought) await queries.invalidateQueries({ queryKey: key });
    return found;
  };
  return { shelf: shelf.data ?? null, keep, read };
}

export function usePulls(team: number | undefined) {
  const queries = useQueryClient();
  const [settings] = useSettings();
  const key = ["pulls", team, settings.force];
  const query = { force_unit: settings.force };
  const found = useQuery({
    queryKey: key,
    enabled: team !== undefined,
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/pulls", { params: { path: { team_id: team! }, query } })),
  });
  const took = async (sent: Promise<Pulls>): Promise<Fault[]> => {
    try {
      queries.setQueryData(key, await sent);
      return [];
    } catch (error) {
      return faultsOf(error, KEPT);
    }
  };
  const add = (id: string, pull: PullMade) =>
    took(
      api
        .POST("/api/teams/{team_id}/pulls", { params: { path: { team_id: team! }, query }, body: { id, pull } })
        .then(answered),
    );
  const leaveOut = (pull: string, why: string) =>
    took(
      api
        .POST("/api/teams/{team_id}/pulls/{pull_id}/left-out", {
          params: { path: { team_id: team!, pull_id: pull }, query },
          body: { why },
        })
        .then(answered),
    );
  return { pulls: found.data ?? null, add, leaveOut };
}

export function usePacking(plan: string) {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const key = ["packing", plan];
  const path = { params: { path: { plan_id: plan } } };
  const packing = useQuery({
    queryKey: key,
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/packing", path)),
  });
  /** Each out or back, one after another; what went stays gone where a later one does not. */
  const count = async (pieces: { label: string; count: number }[], out: boolean) => {
    setBusy(true);
    try {
      for (const one of pieces) {
        const body = { id: newId(), label: one.label, count: one.count, out };
        queries.setQueryData<Packing>(key, answered(await api.POST("/api/plans/{plan_id}/packing", { ...path, body })));
      }
      setWrong(null);
    } catch (error) {
      setWrong(wrongOf(error));
    }
    await queries.invalidateQueries({ queryKey: ["shelf"] });
    setBusy(false);
  };
  return { packing: packing.data ?? null, failed: packing.error, count, busy, wrong };
}
