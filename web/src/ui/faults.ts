/** What went wrong, as a person reads it: in every place alike. */
import { Refused } from "../device/client";
import type { Fault } from "../api/types";
import { upperFirst } from "./format";

/** Each fault as a sentence: what is wrong, and what would be right; where it is one of a row of things, which. */
export function toldOf(faults: Fault[]): string {
  return faults
    .map(({ path, problem, right }) => {
      const where = /\d/.test(path) ? `${path}: ` : "";
      return `${upperFirst(`${where}${problem.replace(/\.$/, "")}`)}: ${right}.`;
    })
    .join(" ");
}

/** Why a call came to nothing; `lost` is said where the server could not be reached. */
export function wrongOf(error: unknown, lost = "The server can not be reached: try again."): string {
  return error instanceof Refused ? toldOf(error.faults) : lost;
}

/** The faults of a call, by field; `kept` says what became of what was given where the server could not be reached. */
export function faultsOf(error: unknown, kept: string): Fault[] {
  if (error instanceof Refused) return error.faults;
  return [{ path: "connection", problem: "the server can not be reached", right: kept }];
}
