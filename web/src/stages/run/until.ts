/** When the load will be up, as the run now stands, and how far that is from what was planned. */
import type { Run, RunOut } from "../../api/types";

export interface Until {
  low: string;
  expected: string;
  high: string;
  /** Minutes later than planned when the step now was begun; less than nothing where it is earlier. */
  late: number;
}

const MINUTE = 60_000;
const SET_UP = "set-up";

/** `now`: by the server's clock. Null outside the operation, and once nothing is left until the load is up. */
export function untilOf(operation: RunOut["operation"], run: Run, now: number): Until | null {
  const place = operation.steps.findIndex((one) => one.key === run.at);
  const step = operation.steps[place];
  if (!step?.left_min || step.begins_min === null || step.begins_min === undefined) return null;
  const begun = Date.parse(run.begun_at);
  // Several set up at once, each at their own: late is what is not there when all of it was to be.
  const all = step.section === SET_UP ? operation.steps.find((one) => one.section !== SET_UP) : null;
  const after = operation.steps[place + 1]?.left_min?.expected ?? 0;
  const own = (all ? (all.begins_min ?? 0) - step.begins_min : Math.max(0, step.left_min.expected - after)) * MINUTE;
  const since = all ? begun + step.begins_min * MINUTE : Date.parse(run.since);
  // A step that takes longer than it was to puts off all that comes after it.
  const from = Math.max(since, now - own);
  const at = (minutes: number) => new Date(from + minutes * MINUTE).toISOString();
  return {
    low: at(step.left_min.low),
    expected: at(step.left_min.expected),
    high: at(step.left_min.high),
    late: (from - begun) / MINUTE - step.begins_min,
  };
}
