/** The anchors report on the document as it is edited. */
import { useCallback } from "react";
import { answered, api } from "../../device/client";
import type { Document } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { useStill } from "../../plan/useStill";
import { useFollowing } from "../../plan/useFollowing";

const STILL_MS = 300;
const WHILE_MOVING = 13;

/**
 * `only`: the one arrangement that is looked at; null asks for all of them, to compare. While something is moved the
 * swing is asked in fewer directions, so that figures follow the finger; once it is still, in all of them.
 */
export function useAnchors(document: Document, state: string, only: string | null) {
  const [{ force, length }] = useSettings();
  const moving = useStill(document, STILL_MS) !== document;
  const ask = useCallback(
    async () =>
      answered(
        await api.POST("/api/anchors", {
          body: document,
          params: {
            query: {
              state,
              ...(only ? { only } : {}),
              ...(moving ? { directions: WHILE_MOVING } : {}),
              force_unit: force,
              length_unit: length,
            },
          },
        }),
      ),
    [document, state, only, moving, force, length],
  );
  return useFollowing(ask);
}
