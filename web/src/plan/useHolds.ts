/** What holds in the state shown, and what happens when a part of it is taken away. Follows the document once it is still. */
import { useCallback } from "react";
import { answered, api } from "../device/client";
import type { Document, Holds } from "../api/types";
import { useSettings } from "../ui/settings";
import { useFollowing } from "./useFollowing";
import { useStill } from "./useStill";

const STILL_MS = 150;

/** `state`: null as long as none is shown; nothing is asked then. */
export function useHolds(document: Document, state: string | null, gone: string | null, every: boolean): Holds | null {
  const [{ force, length }] = useSettings();
  const still = useStill(document, STILL_MS);
  const ask = useCallback(
    async () =>
      state &&
      answered(
        await api.POST("/api/holds", {
          body: { document: still, state, gone, every },
          params: { query: { force_unit: force, length_unit: length } },
        }),
      ),
    [still, state, gone, every, force, length],
  );
  const { answer } = useFollowing(ask);
  return answer && answer.state === state ? answer : null;
}
