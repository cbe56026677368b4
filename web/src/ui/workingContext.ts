import { createContext } from "react";
import type { Document } from "../api/types";

/** What the figures on show are of: the plan's report, or its anchors' in a state. */
export interface WorkingOf {
  document: Document;
  of: "plan" | "anchors";
  state: string;
}

export const WorkingContext = createContext<WorkingOf | null>(null);
