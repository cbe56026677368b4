/** One of a few, side by side. */
import { useId } from "react";

interface Props<T extends string> {
  label: string;
  /** Null: nothing is said yet. */
  value: T | null;
  options: { id: T; name: string }[];
  onChange: (value: T) => void;
  /** In the drawing's own size of type. */
  small?: boolean;
  /** On a phone one field that opens. */
  folds?: boolean;
  className?: string;
}

export function OneOf<T extends string>({ label, value, options, onChange, small, folds, className = "" }: Props<T>) {
  const group = useId();
  const side = (
    <fieldset className={`flex min-w-0 flex-wrap gap-1 ${folds ? "narrow:hidden" : ""} ${className}`}>
      <legend className="sr-only">{label}</legend>
      {options.map((one) => (
        <label
          key={one.id}
          className={`relative flex min-h-11 min-w-11 cursor-pointer items-center justify-center rounded-[3px] border-[1.5px] border-ink px-3 has-checked:bg-ink has-checked:font-semibold has-checked:text-sheet has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-over ${small ? "bg-sheet font-label" : "min-w-16"}`}
        >
          <input
            type="radio"
            name={group}
            className="absolute inset-0 cursor-pointer opacity-0"
            checked={one.id === value}
            onChange={() => onChange(one.id)}
          />
          {one.name}
        </label>
      ))}
    </fieldset>
  );
  if (!folds) return side;
  return (
    <>
      {side}
      <select
        aria-label={label}
        className="field w-auto min-w-[6.5rem] flex-1 px-1.5 roomy:hidden"
        value={value ?? ""}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {options.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
    </>
  );
}
