/** A number for gloves: typed, stepped, or one of what it usually is. */
import { NumberField } from "./fields";
import { unitOf } from "./format";
import { useSettings } from "./settings";

interface Props {
  label: string;
  path: string;
  unit: string;
  value: number | null;
  usual: number[];
  step: number;
  least: number;
  most: number;
  onChange: (value: number | null) => void;
}

export function Stepper({ label, path, unit, value, usual, step, least, most, onChange }: Props) {
  const [settings] = useSettings();
  const { name, si } = unitOf(unit, settings);
  const written = (one: number) => String(Math.round((10 * one) / si) / 10).replace("-", "−");
  const by = (sign: number) => {
    // From nothing it begins at the middle of what is usual.
    const next = value === null ? usual[Math.floor(usual.length / 2)]! : value + sign * step;
    onChange(Math.min(most, Math.max(least, Math.round(next * 100) / 100)));
  };
  const button = (sign: number) => (
    <button
      type="button"
      className="button min-h-14 min-w-14 px-0 text-head"
      aria-label={`${label}: ${sign < 0 ? "less" : "more"}`}
      onClick={() => by(sign)}
    >
      <span aria-hidden>{sign < 0 ? "−" : "+"}</span>
    </button>
  );
  return (
    <div className="min-w-0">
      <p className="field-label" aria-hidden>
        {label}
        {name ? `, ${name}` : ""}
      </p>
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <NumberField label={label} unit={unit} path={path} value={value} onChange={onChange} optional quiet />
        </div>
        {button(-1)}
        {button(1)}
      </div>
      <div className="mt-1 flex flex-wrap gap-1" role="group" aria-label={`${label}, usually`}>
        {usual.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === value}
            className="min-h-11 min-w-11 flex-1 rounded-[3px] border border-line font-label aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-sheet"
            onClick={() => onChange(one)}
          >
            {written(one)}
          </button>
        ))}
      </div>
    </div>
  );
}
