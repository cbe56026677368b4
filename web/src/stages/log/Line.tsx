/** An entry in a line where a line will do; what was decided stands out, with its reason. */
import { authorOf } from "../../plan/author";
import { memo } from "react";
import type { Entry } from "../../api/types";
import { clock, day } from "../../ui/format";
import { KIND } from "./kinds";

/** The step and the hour that an entry belongs to. */
function part(entry: Entry): string {
  const at = `${day(entry.time)}, from ${clock(entry.time).slice(0, 2)}:00`;
  return entry.step ? `${at}, step ${entry.step}` : at;
}

/** Where the list turns to another step or another hour: what it turns to, or nothing. */
export function turnsTo(entry: Entry, newer: Entry | undefined): string {
  const now = part(entry);
  return newer && part(newer) === now ? "" : now;
}

interface Props {
  entry: Entry;
  plan: string;
}

export const Line = memo(function Line({ entry, plan }: Props) {
  const stop = entry.kind === "stop";
  return (
    <span className="grid grid-cols-[3rem_5rem_minmax(0,1fr)] gap-x-2 leading-tight narrow:grid-cols-[3rem_minmax(0,1fr)]">
      <span className="font-label text-quiet">{clock(entry.time)}</span>
      <span className="font-label break-words text-quiet narrow:hidden">{authorOf(entry)}</span>
      <span className="min-w-0 break-words">
        <span className="font-label text-quiet roomy:hidden">{authorOf(entry)} </span>
        {entry.kind === "decision" ? null : <span className="font-label text-quiet">{KIND[entry.kind]} </span>}
        <b className={`${stop ? "text-over" : ""} ${stop || entry.kind === "decision" ? "" : "font-normal"}`}>
          {stop ? "◆ " : ""}
          {entry.decision}
        </b>
        {entry.reason ? (
          <span className={entry.kind === "decision" ? "" : "text-quiet"}> because {entry.reason}</span>
        ) : null}
        {entry.kind === "photo" ? (
          <img
            src={`/api/plans/${plan}/photographs/${entry.id}?small=true`}
            alt=""
            className="ml-2 inline-block h-10 align-top"
          />
        ) : null}
      </span>
    </span>
  );
});
