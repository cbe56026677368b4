import type { Entry } from "../../api/types";

/** What an entry is, in a word or two. */
export const KIND: Record<Entry["kind"], string> = {
  decision: "decided",
  observation: "seen",
  correction: "correction",
  imported: "read in",
  signed: "signed",
  run: "run",
  step: "step",
  stop: "STOP",
  go: "going on",
  contingency: "something else",
  reading: "reading",
  photo: "photograph",
  here: "people",
  plan: "plan changed",
  conflict: "two at once",
  alarm: "load cell",
};
