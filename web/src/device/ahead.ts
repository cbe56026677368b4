/** The run as it is after what was done here without a connection: a picture of it on this device, until the server has it. */
import type { Operation, Procedure, Run, Step } from "../api/types";
import type { Waiting } from "./store";

export function ahead(run: Run, operation: Operation, waiting: Waiting[], procedures: Procedure[]): Run {
  return waiting.reduce((now, one) => moved(now, operation, one, procedures), run);
}

function moved(run: Run, operation: Operation, one: Waiting, procedures: Procedure[]): Run {
  if (one.item.type !== "act") return run;
  const { act, at, text, data } = one.item.act;
  // What somebody else has done already, beside, is not come to again.
  const keys = operation.steps
    .map((step) => step.key)
    .filter((key) => key === run.at || !(run.done_ahead ?? []).includes(key));
  const to = (by: number): Run =>
    at && at !== run.at
      ? run
      : {
          ...run,
          at: keys[Math.min(Math.max(keys.indexOf(run.at) + by, 0), keys.length - 1)]!,
          all_done: act === "done" && run.at === keys.at(-1),
        };
  if (act === "stop")
    return run.status === "stopped"
      ? run
      : { ...run, status: "stopped", stopped: { by: one.by, why: text ?? "", at: one.made } };
  if (act === "why" && run.stopped) return { ...run, stopped: { ...run.stopped, why: text ?? "" } };
  if (act === "go") return { ...run, status: "going", stopped: null };
  if (act === "contingency") return entered(run, operation, String(data?.id), procedures);
  if (act === "return") return { ...run, contingency: null };
  if (act === "back") return to(-1);
  if (act === "skip") return to(1);
  if (act !== "done") return run;
  if (!run.contingency) return at && run.beside?.includes(at) ? done(run, at) : to(1);
  if (at && at !== run.contingency.steps[run.contingency.place]?.key) return run;
  const place = run.contingency.place + 1;
  return { ...run, contingency: place < run.contingency.steps.length ? { ...run.contingency, place } : null };
}

/** A step beside the one that is now, done. */
function done(run: Run, at: string): Run {
  return { ...run, beside: run.beside.filter((one) => one !== at), done_ahead: [...run.done_ahead, at] };
}

/** A contingency's steps as they are written, on the rig as it stood when it was entered. */
function entered(run: Run, operation: Operation, id: string, procedures: Procedure[]): Run {
  const given = procedures.find((one) => one.id === id);
  const here = operation.steps.find((one) => one.key === run.at);
  if (!given || !here || run.contingency) return run;
  const steps: Step[] = given.steps.map((row, number) => ({
    ...here,
    key: `${id}/${number + 1}`,
    section: id,
    do: row.do,
    look: row.look ?? "",
    words: row.words ?? "",
    wrong: row.wrong ?? "",
    who: row.who.map((role) => ({ role, duty: role, name: "", acts: true })),
    lacks: [],
    hands: null,
  }));
  return { ...run, contingency: { id, name: given.name, place: 0, steps } };
}
