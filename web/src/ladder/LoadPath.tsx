/** The load path: one rung for every part, ground above, casualty below; weakest named with what would mend it. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type { Finding, Rung, StateReport, WholeReport } from "../api/types";
import { useSettings } from "../ui/settings";
import { digits, shown } from "../ui/format";
import { LEVEL } from "../ui/levels";
import { isDoubtful, ratio, RungMark } from "./RungMark";

interface Props {
  state: StateReport;
  rule: WholeReport["rule"];
  findings: Finding[];
  onRung: (rung: Rung) => void;
  /** What buys most, in this place; left out where nothing hauls or lowers yet. */
  onBest: (() => void) | null;
  onClose: () => void;
}

/** Place of a margin on a log scale from 1 to 50. */
function share(margin: number): number {
  return Math.min(1, Math.max(0.01, Math.log(Math.max(1, margin)) / Math.log(50)));
}

export function LoadPath({ state, rule, findings, onRung, onBest, onClose }: Props) {
  const rungs = [...state.rungs].reverse();
  return (
    <>
      <div className="flex items-center justify-between gap-2 px-4 pt-1.5">
        <h2 className="font-semibold">Load path</h2>
        <p className="min-w-0 flex-1 font-label text-note text-quiet" title={rule.text}>
          {rule.school === "static-ratio" ? "static ratio" : "force limit"}
        </p>
        {onBest ? (
          <button type="button" className="min-h-11 px-1 font-label underline" onClick={onBest}>
            what buys most
          </button>
        ) : null}
        <button type="button" className="button px-3" aria-label="Close the load path" onClick={onClose}>
          <span aria-hidden>▸</span>
        </button>
      </div>
      <Findings findings={findings} />
      {state.available ? (
        <>
          <ol className="px-2 pt-1 pb-2" aria-label="Load path, ground above, casualty below">
            {rungs.map((rung, index) => (
              <RungRow
                key={rung.id}
                rung={rung}
                weakest={rung.id === state.weakest}
                first={index === 0}
                last={index === rungs.length - 1}
                onOpen={() => onRung(rung)}
              />
            ))}
          </ol>
        </>
      ) : null}
    </>
  );
}

/** What must be heard stands in full; the rest is one touch away, counted in plain view. */
function Findings({ findings }: { findings: Finding[] }) {
  const stops = findings.filter((finding) => finding.level === "stop");
  const rest = findings.filter((finding) => finding.level !== "stop");
  const looks = rest.filter((finding) => finding.level === "look").length;
  const count = [looks ? `◇ ${looks} to look at` : "", rest.length - looks ? `■ ${rest.length - looks} to note` : ""]
    .filter(Boolean)
    .join(", ");
  return (
    <>
      <FindingList findings={stops} label="Stop" />
      {rest.length ? (
        <Disclosure defaultOpen={stops.length === 0 && rest.length < 3}>
          <DisclosureButton className="mx-3 mt-1 flex min-h-11 w-[calc(100%-1.5rem)] items-center justify-between border-l-4 border-over px-2.5 hover:bg-film">
            <span className="font-semibold">{count}</span>
            <span className="text-quiet">▾</span>
          </DisclosureButton>
          <DisclosurePanel>
            <FindingList findings={rest} label="Look and note" />
          </DisclosurePanel>
        </Disclosure>
      ) : null}
    </>
  );
}

export function FindingList({ findings, label }: { findings: Finding[]; label: string }) {
  return (
    <ul className="flex flex-col gap-1.5 px-3 pt-1.5" aria-label={label} aria-live="polite">
      {findings.map((finding) => (
        <li
          key={finding.id}
          data-finding={finding.id}
          className={`border-l-4 px-2.5 py-1.5 ${finding.level === "stop" ? "border-over bg-tint" : finding.level === "look" ? "border-over" : "border-line"}`}
        >
          <p
            className={
              finding.level === "stop" ? "text-answer leading-snug font-semibold text-over" : "text-base leading-snug"
            }
          >
            <span aria-label={LEVEL[finding.level].say}>{LEVEL[finding.level].mark}</span> {finding.text}
          </p>
          {finding.mend ? <p className="font-label text-base leading-snug">{finding.mend}</p> : null}
        </li>
      ))}
    </ul>
  );
}

interface RowProps {
  rung: Rung;
  weakest: boolean;
  first: boolean;
  last: boolean;
  onOpen: () => void;
}

function RungRow({ rung, weakest, first, last, onOpen }: RowProps) {
  const [settings] = useSettings();
  const below = rung.verdict === "below";
  const doubtful = isDoubtful(rung);
  const { unit } = shown(rung.force, settings);
  const strength = rung.strength
    ? ` of ${shown(rung.strength, settings).range || shown(rung.strength, settings).value} ${unit}`
    : ` ${unit}`;
  return (
    <li>
      <button
        type="button"
        onClick={onOpen}
        className="grid min-h-[44px] w-full grid-cols-[30px_minmax(0,1fr)_56px] xl:grid-cols-[30px_minmax(0,1fr)_56px_56px] items-center gap-x-2 text-left hover:bg-film"
        data-rung={rung.id}
      >
        <svg width={30} height={44} aria-hidden>
          <path d={`M15 ${first ? 22 : 0} V${last ? 22 : 44}`} stroke="var(--ink)" strokeWidth={2} />
          <RungMark rung={rung} weakest={weakest} at={{ x: 15, y: 22 }} reach={10} />
        </svg>
        <span className="min-w-0">
          <span className={`block font-label text-base leading-tight ${weakest ? "font-semibold" : ""}`}>
            {rung.name}
          </span>
          <span className="block font-label text-note leading-tight text-quiet">
            {shown(rung.force, settings).range || shown(rung.force, settings).value}
            {strength}
            {rung.gives === "slips" ? ", slips" : ""}
            {below ? <span className="sr-only">, below the rule</span> : null}
          </span>
        </span>
        {rung.margin ? (
          <svg width={56} height={24} aria-hidden className="max-xl:hidden">
            <rect y={9} width={56} height={7} fill="var(--line)" opacity={0.6} />
            <rect y={9} width={56 * share(rung.margin.low)} height={7} fill={below ? "var(--over)" : "var(--ink)"} />
            <line
              x1={56 * share(rung.target)}
              x2={56 * share(rung.target)}
              y1={3}
              y2={22}
              stroke="var(--ink)"
              strokeWidth={2.5}
            />
          </svg>
        ) : (
          <span className="max-xl:hidden" />
        )}
        <span
          className={`text-right font-semibold ${rung.margin ? "text-answer" : "font-label text-mark leading-tight whitespace-nowrap"} ${doubtful ? "text-over" : ""}`}
        >
          {rung.margin ? digits(rung.margin.low) : ratio(rung)}
        </span>
      </button>
    </li>
  );
}
