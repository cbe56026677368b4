/** The anchors report on the document as it is edited. */
import { useCallback } from "react";
import { answered, api } from "../../api/client";
import type { Document, Phase } from "../../api/types";
import { useSettings } from "../../app/settings";
import { useFollowing } from "../../plan/useFollowing";

/** `only`: the one arrangement that is looked at; null asks for all of them, to compare. */
export function useAnchors(document: Document, phase: Phase, only: string | null) {
  const [{ force, length }] = useSettings();
  const ask = useCallback(
    async () => answered(await api.POST("/api/anchors", { body: document, params: { query: { phase, ...(only ? { only } : {}), force_unit: force, length_unit: length } } })),
    [document, phase, only, force, length],
  );
  return useFollowing(ask);
}
