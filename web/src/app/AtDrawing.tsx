/** What stands at the drawing: the states to look at, and how far the rope reaches. */
import type { Report, StateReport } from "../api/types";
import type { OpenPlan } from "../plan/usePlan";
import { OneOf } from "../ui/OneOf";
import { spanned } from "../ui/format";
import { useSettings } from "../ui/settings";

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
  const options = all.map((one) => ({
    id: one.id,
    name: `${one.available ? "" : "◇ "}${one.name.replace(/^(Lowering|Raising), hands/, "Hands")}`,
  }));
  return <OneOf label="State within" value={state.id} options={options} onChange={onState} small folds />;
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
