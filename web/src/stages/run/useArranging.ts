/** The operation put in order: a revision of the plan, which everybody's run then follows. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { components } from "../../api/schema";
import type { RunOut } from "../../api/types";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import { wrongOf } from "../../ui/faults";

export type Course = components["schemas"]["Course"];

export function useArranging(plan: string, out: RunOut) {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const arrange = async (operation: Course) => {
    setBusy(true);
    try {
      answered(
        await api.PUT("/api/plans/{plan_id}/operation", {
          params: { path: { plan_id: plan } },
          body: { id: newId(), base: out.latest, operation },
        }),
      );
      setWrong(null);
    } catch (error) {
      setWrong(wrongOf(error));
    }
    await Promise.all(
      [["run", plan], ["plan", plan], ["plans"]].map((key) => queries.invalidateQueries({ queryKey: key })),
    );
    setBusy(false);
  };
  return { arrange, busy, wrong };
}
