/** The whole way of the line at work, or of a tension line: its bands and events. Follows the document once it is still. */
import { useCallback } from "react";
import { answered, api } from "../device/client";
import type { Document, Way } from "../api/types";
import { useSettings } from "../ui/settings";
import { useFollowing } from "./useFollowing";
import { useStill } from "./useStill";

const STILL_MS = 200;

export function useWay(document: Document, wanted: boolean, line: string | null): Way | null {
  const [{ force, length }] = useSettings();
  const still = useStill(document, STILL_MS);
  const ask = useCallback(
    async () =>
      wanted
        ? answered(
            await api.POST("/api/way", {
              body: still,
              params: { query: { positions: 61, ...(line ? { line } : {}), force_unit: force, length_unit: length } },
            }),
          )
        : null,
    [still, wanted, line, force, length],
  );
  return useFollowing(ask).answer;
}
