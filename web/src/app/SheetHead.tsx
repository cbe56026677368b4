/** The head of the work sheet: whether it is saved, the states to look at, units, day and night, keys. */
import { Radio, RadioGroup } from "@headlessui/react";
import { Link } from "react-router";
import type { Report, Session, StateReport } from "../api/types";
import type { OpenPlan } from "../plan/usePlan";
import { clock, spanned } from "../ui/format";
import { useSettings, type ForceUnit } from "./settings";

export const GROUPS: { id: StateReport["group"]; name: string; key: string }[] = [
  { id: "held", name: "Hold", key: "1" },
  { id: "lower", name: "Lower", key: "2" },
  { id: "raise", name: "Raise", key: "3" },
  { id: "goes", name: "A line goes", key: "4" },
];

export function Saved({ open }: { open: OpenPlan }) {
  const { number, saved_at } = open.revision;
  const words = {
    saved: `revision ${number}, saved ${clock(saved_at)}`,
    waiting: `revision ${number}, saving`,
    offline: "◆ No connection. Kept on this device, sent when it is back",
    stale: "◆ Somebody saved in between",
    refused: "◆ Not saved: a value is wrong. Kept on this device",
  }[open.saving];
  const loud = open.saving === "offline" || open.saving === "stale" || open.saving === "refused";
  return (
    <p
      role="status"
      data-saving={open.saving}
      className={`font-label md:whitespace-nowrap ${loud ? "bg-over px-2 py-1 font-semibold text-sheet" : "text-quiet"}`}
    >
      {words}
      {open.canEdit ? "" : " (you read only)"}
    </p>
  );
}

const RADIO =
  "flex cursor-pointer items-center justify-center rounded-[3px] px-3 data-checked:bg-ink data-checked:font-semibold data-checked:text-sheet";

export function GroupSwitch({
  group,
  onGroup,
}: {
  group: StateReport["group"];
  onGroup: (group: StateReport["group"]) => void;
}) {
  return (
    <RadioGroup value={group} onChange={onGroup} aria-label="State" className="flex gap-1 py-0.5">
      {GROUPS.map((one) => (
        <Radio key={one.id} value={one.id} className={`${RADIO} min-h-11 min-w-16`}>
          {one.name}
        </Radio>
      ))}
    </RadioGroup>
  );
}

/** The states of the group that is shown, in the leader's words. */
export function StateSwitch({
  report,
  state,
  onState,
}: {
  report: Report;
  state: StateReport;
  onState: (id: string) => void;
}) {
  const all = report.states.filter((one) => one.group === state.group);
  if (all.length < 2) return null;
  return (
    <RadioGroup value={state.id} onChange={onState} aria-label="State within" className="flex flex-wrap gap-0.5">
      {all.map((one) => (
        <Radio
          key={one.id}
          value={one.id}
          className={`${RADIO} min-h-11 border-b-2 border-transparent px-2.5! font-label text-[16px]`}
        >
          {one.available ? "" : "◇ "}
          {one.name.replace(/^(Lowering|Raising), hands/, "Hands")}
        </Radio>
      ))}
    </RadioGroup>
  );
}

export function Tools({ session, onKeys }: { session: Session; onKeys: () => void }) {
  const [settings, set] = useSettings();
  const units: ForceUnit[] = ["kN", "kgf", "lbf"];
  const next = units[(units.indexOf(settings.force) + 1) % units.length] ?? "kN";
  const plain = "min-h-11 min-w-11 px-2.5 hover:bg-film";
  return (
    <div className="flex items-center">
      <button
        type="button"
        className={plain}
        aria-label={`${settings.force}: units of force and length. Change to ${next}`}
        onClick={() => set({ force: next, length: next === "lbf" ? "ft" : "m" })}
      >
        {settings.force}
      </button>
      <button type="button" className={plain} onClick={() => set({ night: !settings.night })}>
        {settings.night ? "Day" : "Night"}
      </button>
      <button type="button" className={plain} onClick={onKeys}>
        Keys
      </button>
      <Link to="/plans" className={`${plain} flex items-center`} title="Back to the plans">
        {session.username}
      </Link>
    </div>
  );
}

export function RopeLeft({ open }: { open: OpenPlan }) {
  const [settings] = useSettings();
  const worst = [...(open.report?.budgets ?? [])].sort((a, b) => a.left.low - b.left.low)[0];
  if (!worst) return null;
  const short = worst.left.low < 0;
  const length = (figure: typeof worst.left) => spanned(figure, settings);
  const missing = { ...worst.left, expected: -worst.left.expected, low: -worst.left.high, high: -worst.left.low };
  return (
    <p className={short ? "font-semibold text-over" : "font-label"} data-testid="rope-left">
      {short ? "◆ " : ""}rope {length(worst.length)}, {length(worst.needed)} to {worst.job}:{" "}
      {short ? `${length(missing)} short` : `${length(worst.left)} left`}
    </p>
  );
}
