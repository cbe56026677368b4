/** What the ledgers of Size-up share. */
import type { Catalogue, Document } from "../api/types";
import type { LineEdits } from "./useLineEdits";
import type { OpenPlan } from "./usePlan";
import { Choice, type Option } from "../ui/fields";

export interface LedgerProps {
  open: OpenPlan;
  catalogue: Catalogue;
  lines: LineEdits;
}

type Part<K extends keyof Document> = (change: (old: Document[K]) => Document[K]) => void;

export function part<K extends keyof Document>(open: OpenPlan, key: K): Part<K> {
  return (change) => open.edit((old) => ({ ...old, [key]: change(old[key]) }));
}

export function replaced<T>(list: T[], index: number, with_: Partial<T>): T[] {
  return list.map((one, at) => (at === index ? { ...one, ...with_ } : one));
}

/** The plan's ropes by what they are on. */
export function ropesBy(document: Document): Option[] {
  return (document.ropes ?? []).map((rope) => {
    const on = (document.lines ?? []).filter((one) => one.rope === rope.id).map((one) => one.id);
    return { id: rope.id, name: `${rope.length_m} m, ${on.length ? `on ${on.join(" and ")}` : rope.id}` };
  });
}

export function named(table: Record<string, Option>): Option[] {
  return Object.values(table).map(({ id, name }) => ({ id, name }));
}

/** What wet, ice and mud do, asked of the day and, where it is otherwise, of a piece. */
export type Condition = "dry" | "wet" | "icy" | "muddy" | null;

export function StateChoice({
  catalogue,
  value,
  none,
  label = "Wet or dry",
  disabled,
  onChange,
}: {
  catalogue: Catalogue;
  value: Condition | undefined;
  none: string;
  label?: string;
  disabled: boolean;
  onChange: (state: Condition) => void;
}) {
  return (
    <Choice
      label={label}
      none={none}
      value={value ?? null}
      options={named(catalogue.conditions)}
      disabled={disabled}
      onChange={(id) => onChange(id as Condition)}
    />
  );
}

export function Remove({ what, onClick, disabled }: { what: string; onClick: () => void; disabled: boolean }) {
  return (
    <button
      type="button"
      className="button min-w-11 px-3"
      aria-label={`Take out ${what}`}
      onClick={onClick}
      disabled={disabled}
    >
      ✕
    </button>
  );
}
