/** Whether somebody has called stop on this plan's run: told live, on every screen of it. */
import { useEffect, useState } from "react";
import type { Run } from "../api/types";

export function useStopped(plan: string): Run["stopped"] {
  const [stopped, set] = useState<Run["stopped"]>(null);
  useEffect(() => {
    const source = new EventSource(`/api/plans/${plan}/events`);
    source.addEventListener("run", (event) => set((JSON.parse((event as MessageEvent<string>).data) as Run).stopped));
    return () => source.close();
  }, [plan]);
  return stopped;
}
