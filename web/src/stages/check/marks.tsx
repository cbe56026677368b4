/** How urgent a line is, and whether a second person has signed it: shape first, then words. */
import type { CheckLine } from "../../api/types";
import type { Answered, CheckOf } from "../../plan/useCheck";
import { clock } from "../../ui/format";
import { LEVEL } from "../../ui/levels";

export function Mark({ level }: { level: CheckLine["level"] }) {
  const { mark, say } = LEVEL[level];
  return (
    <>
      <span aria-hidden className={level === "stop" ? "mr-1.5 text-over" : "mr-1.5"}>
        {mark}
      </span>
      <span className="sr-only">{say}: </span>
    </>
  );
}

interface Props {
  line: Answered;
  found: CheckOf;
  onSign: (() => void) | null;
}

export function SignedMark({ line, found, onSign }: Props) {
  const standing = found.standing(line);
  const last = found.signed.get(line.id);
  if (standing === "signed" && last)
    return (
      <p className="py-2 font-label text-note leading-tight whitespace-nowrap" data-signed={line.id}>
        {last.by} {clock(last.at)}
      </p>
    );
  const came = standing === "came-open";
  if (!onSign)
    return (
      <p className={`py-2 font-label text-note leading-tight ${came ? "font-semibold text-over" : "text-quiet"}`}>
        {came ? "◇ came open" : "open"}
      </p>
    );
  return (
    <button
      type="button"
      className={`min-h-11 font-label leading-tight underline ${came ? "font-semibold text-over" : ""}`}
      onClick={onSign}
    >
      {came ? "◇ sign again" : "sign"}
    </button>
  );
}
