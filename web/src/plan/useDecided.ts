/** What was changed since the last decision, told in the trade's words as soon as the document is still. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api } from "../device/client";
import type { Document } from "../api/types";
import { useSettings } from "../ui/settings";
import { useStill } from "./useStill";
import { keep, kept } from "../device/small";

const STILL_MS = 700;

export interface Offer {
  decision: string;
  /** What of the check the change did away with. */
  answers: string[];
  /** What else was open on the screen when it was chosen. */
  considered: string;
}

const KEY = "outrigger.decided";

/** What a decision is told from; kept for the plan that this tab has open, so that a reload loses no change. */
interface Since {
  plan: string;
  /** The plan as it was when the last decision was recorded, or when this tab first opened it. */
  base: Document;
  /** What else was open on the screen when it was changed. */
  considered: string;
}

function before(plan: string): Since | null {
  const since = kept<Partial<Since>>(sessionStorage, KEY, {});
  const { base, considered = "" } = since;
  return since.plan === plan && base ? { plan, base, considered } : null;
}

export function useDecided(plan: string, document: Document, canEdit: boolean) {
  const [since, set] = useState<Since>(() => before(plan) ?? { plan, base: document, considered: "" });
  const { base, considered } = since;
  useEffect(() => keep(sessionStorage, KEY, since), [since]);
  const [{ force, length }] = useSettings();
  const still = useStill(document, STILL_MS);
  const changed = canEdit && still !== base;
  const told = useQuery({
    queryKey: ["decided", base, still, force, length],
    enabled: changed,
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: async () =>
      answered(
        await api.POST("/api/decided", {
          body: { before: base, after: still },
          params: { query: { force_unit: force, length_unit: length } },
        }),
      ),
  });
  const found = changed && still === document ? told.data : undefined;
  const offer: Offer | null = found?.text
    ? {
        decision: found.effects.length ? `${found.text}: ${found.effects.join(", ")}` : found.text,
        answers: found.answers,
        considered,
      }
    : null;
  return {
    offer,
    consider: (others: string) => set((now) => ({ ...now, considered: others })),
    settle: () => set({ plan, base: document, considered: "" }),
  };
}
