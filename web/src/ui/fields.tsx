/** Things to type and choose with: large, labelled, and showing what is wrong beside the field. */
import { Field, Input, Label, Listbox, ListboxButton, ListboxOption, ListboxOptions } from "@headlessui/react";
import { useContext, useId, useState } from "react";
import { FaultContext } from "./faultContext";
import { useLed } from "./led";
import { useSettings } from "./settings";
import { unitOf } from "./format";

export function FaultAt({ path, id }: { path?: string | undefined; id?: string }) {
  const found = useContext(FaultContext).filter((fault) => path && fault.path === path);
  if (!found.length) return null;
  return (
    <p id={id} role="alert" className="font-label text-note font-semibold text-over">
      ◆ {found.map((fault) => `${fault.problem}: ${fault.right}`).join(" ")}
    </p>
  );
}

interface Common {
  label: string;
  path?: string | undefined;
  disabled?: boolean | undefined;
  /** Hide the label where the table's head says it. */
  bare?: boolean;
  /** Hide it where something else beside it says it. */
  quiet?: boolean;
}

const labelled = (bare = false, quiet = false) =>
  quiet ? "sr-only" : bare ? "sr-only narrow:not-sr-only narrow:field-label" : "field-label";

export function NumberField({
  label,
  path,
  value,
  unit = "",
  onChange,
  disabled,
  bare,
  quiet,
  optional,
}: Common & { value: number | null; unit?: string; onChange: (value: number | null) => void; optional?: boolean }) {
  const [settings] = useSettings();
  const { name, si } = unitOf(unit, settings);
  const written = value === null ? "" : String(Number((value / si).toPrecision(6)));
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? written;
  const number = Number(text.replace(",", "."));
  const wrong = typed !== null && (text.trim() === "" ? !optional : Number.isNaN(number));
  const id = useId();
  return (
    <Field className="min-w-0" disabled={disabled ?? false}>
      <Label className={labelled(bare, quiet)}>
        {label}
        {name ? `, ${name}` : ""}
      </Label>
      <Input
        inputMode="decimal"
        className="field"
        value={text}
        aria-invalid={wrong}
        aria-describedby={id}
        onChange={(event) => {
          const next = event.target.value;
          setTyped(next);
          const parsed = Number(next.replace(",", "."));
          if (next.trim() === "") {
            if (optional) onChange(null);
          } else if (!Number.isNaN(parsed)) onChange(parsed * si);
        }}
        onBlur={() => !wrong && setTyped(null)}
      />
      {wrong ? (
        <p id={id} role="alert" className="font-label text-note font-semibold text-over">
          ◆ not a number: give digits, as 12.5
        </p>
      ) : (
        <FaultAt path={path} id={id} />
      )}
    </Field>
  );
}

export function TextField({
  label,
  path,
  value,
  onChange,
  disabled,
  bare,
  led,
}: Common & { value: string; onChange: (value: string) => void; led?: string }) {
  const id = useId();
  const field = useLed(led);
  return (
    <Field className="min-w-0" disabled={disabled ?? false}>
      <Label className={labelled(bare)}>{label}</Label>
      <Input
        ref={field}
        className="field"
        value={value}
        aria-describedby={id}
        onChange={(event) => onChange(event.target.value)}
      />
      <FaultAt path={path} id={id} />
    </Field>
  );
}

export interface Option {
  id: string;
  name: string;
}

export function Choice({
  label,
  path,
  value,
  options,
  onChange,
  disabled,
  bare,
  quiet,
  none,
}: Common & { value: string | null; options: Option[]; onChange: (value: string | null) => void; none?: string }) {
  const all: { id: string | null; name: string }[] = none ? [{ id: null, name: none }, ...options] : options;
  const id = useId();
  const chosen = all.find((option) => option.id === value);
  return (
    <Field className="min-w-0" disabled={disabled ?? false}>
      <Label className={quiet ? "sr-only" : bare ? "sr-only narrow:not-sr-only narrow:field-label" : "field-label"}>
        {label}
      </Label>
      <Listbox value={value} onChange={onChange} disabled={disabled ?? false}>
        <ListboxButton className="field flex items-center justify-between gap-2 text-left">
          <span className="min-w-0 leading-tight">{chosen?.name ?? "choose"}</span>
          <span aria-hidden className="text-quiet">
            ▾
          </span>
        </ListboxButton>
        <ListboxOptions
          anchor={{ to: "bottom start", gap: 2 }}
          className="z-50 max-h-80 min-w-(--button-width) overflow-auto border-2 border-ink bg-sheet shadow-lg"
        >
          {all.map((option) => (
            <ListboxOption
              key={option.id ?? "none"}
              value={option.id}
              className="flex min-h-11 cursor-pointer items-center px-3 data-focus:bg-film data-selected:font-semibold data-selected:text-over"
            >
              {option.name}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
      <FaultAt path={path} id={id} />
    </Field>
  );
}
