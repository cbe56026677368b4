/** What the gear went through, and the marks made on the list before it is signed: kept with the tab, so that a reload loses none. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Gear, GearPiece } from "../../api/types";
import { keep, kept } from "../../device/small";

export interface Marked {
  looked: boolean;
  becomes: GearPiece["becomes"];
  seen: Gear["seen"];
  note: string;
}

const path = (plan: string) => ({ params: { path: { plan_id: plan } } });

export function useGear(plan: string, enabled = true) {
  return useQuery({
    queryKey: ["gear", plan],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/gear", path(plan))),
    retry: false,
    enabled,
  });
}

export function useMarks(plan: string) {
  const key = `outrigger.gear.${plan}`;
  const [marks, set] = useState(() => kept<Record<string, Marked>>(sessionStorage, key, {}));
  const change = (next: Record<string, Marked>) => {
    keep(sessionStorage, key, next);
    set(next);
  };
  const of = (piece: GearPiece): Marked =>
    marks[piece.id] ?? { looked: false, becomes: piece.becomes, seen: [], note: "" };
  return {
    of,
    mark: (pieces: GearPiece[], changed: Partial<Marked>) =>
      change({ ...marks, ...Object.fromEntries(pieces.map((one) => [one.id, { ...of(one), ...changed }])) }),
    clear: () => change({}),
  };
}

export function useSigning(plan: string, marks: ReturnType<typeof useMarks>) {
  const queries = useQueryClient();
  // One id until it is through: sent again after a lost answer, it is signed once.
  const [id, setId] = useState(newId);
  return useMutation({
    mutationFn: async (pieces: GearPiece[]) => {
      const lines = pieces.map((piece) => {
        const { becomes, seen, note } = marks.of(piece);
        return { piece: piece.id, becomes, seen, note };
      });
      return answered(await api.POST("/api/plans/{plan_id}/gear", { ...path(plan), body: { id, lines } }));
    },
    onSuccess: (told) => {
      queries.setQueryData(["gear", plan], told);
      marks.clear();
      setId(newId());
    },
  });
}
