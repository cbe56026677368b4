import { createContext } from "react";
import type { Fault } from "../api/types";

/** Faults of the document as it stands, by path. */
export const FaultContext = createContext<Fault[]>([]);
