/** What the ledgers of Size-up share. */
import type { Catalogue, Document } from "../../api/types";
import type { LineEdits } from "../lines/useLineEdits";
import type { OpenPlan } from "../../plan/usePlan";
import type { Option } from "../../ui/fields";

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

export function named(table: Record<string, Option>): Option[] {
  return Object.values(table).map(({ id, name }) => ({ id, name }));
}

export function Remove({ what, onClick, disabled }: { what: string; onClick: () => void; disabled: boolean }) {
  return (
    <button
      type="button"
      className="button px-3!"
      aria-label={`Take out ${what}`}
      onClick={onClick}
      disabled={disabled}
    >
      ✕
    </button>
  );
}
