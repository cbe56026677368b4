/** What others do to a plan is read again when it is told, and once more after a connection that was lost. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { hear, isConnected, watch } from "../device/live";

/** What a plan's entries speak of. */
const TOLD_OF = ["log", "signed", "cells", "gear"];

export function useNews(plan: string): void {
  const queries = useQueryClient();
  const connected = useSyncExternalStore(watch, isConnected);
  useEffect(() => {
    const again = () => TOLD_OF.forEach((name) => void queries.invalidateQueries({ queryKey: [name, plan] }));
    if (connected) again();
    return hear({
      plan,
      after: () => undefined,
      tell: (name) => {
        if (name === "entry") again();
      },
    });
  }, [plan, connected, queries]);
}
