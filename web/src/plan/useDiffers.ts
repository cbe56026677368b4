/** What two documents of a plan differ in, in the leader's words. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../device/client";
import type { Document } from "../api/types";
import { useSettings } from "../ui/settings";

/** `forward`: from the one to the other; else from the other to the one. null until it is known. */
export function useDiffers(one: Document, other: Document, forward = true): string[] | null {
  const [{ force, length }] = useSettings();
  const [before, after] = forward ? [one, other] : [other, one];
  const told = useQuery({
    queryKey: ["differs", before, after, force, length],
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: async () =>
      answered(
        await api.POST("/api/differs", {
          body: { before, after },
          params: { query: { force_unit: force, length_unit: length } },
        }),
      ),
  });
  return told.data?.changes ?? null;
}
