/** What of a rope is in use for something else all the while: coils carried, whoever goes to the lip. */
import type { Rope } from "../../api/types";
import { Remove, replaced } from "../../plan/ledger";
import { Choice, NumberField } from "../../ui/fields";
import { useRows } from "../../ui/useRows";

type Kept = NonNullable<Rope["kept"]>[number];

const WHAT = [
  { id: "coils", name: "coils carried" },
  { id: "lip", name: "whoever goes to the lip" },
  { id: "people", name: "people tied in" },
  { id: "other", name: "something else" },
];

export function KeptLedger({
  rope,
  path,
  disabled,
  onChange,
}: {
  rope: Rope;
  path: string;
  disabled: boolean;
  onChange: (change: Partial<Rope>) => void;
}) {
  const kept = rope.kept ?? [];
  const rows = useRows(kept.length);
  return (
    <>
      {kept.map((one, index) => (
        <div key={rows.key(index)} className="col-span-full grid grid-cols-[6rem_1fr_auto] items-end gap-2">
          <NumberField
            label="Kept of it"
            unit="m"
            path={`${path}.kept[${index}].length_m`}
            value={one.length_m}
            disabled={disabled}
            onChange={(length_m) => length_m !== null && onChange({ kept: replaced(kept, index, { length_m }) })}
          />
          <Choice
            label="For"
            value={one.what}
            options={WHAT}
            disabled={disabled}
            onChange={(what) => onChange({ kept: replaced(kept, index, { what: what as Kept["what"] }) })}
          />
          <Remove
            what={`the ${one.length_m} m kept`}
            disabled={disabled}
            onClick={() => {
              rows.gone(index);
              onChange({ kept: kept.toSpliced(index, 1) });
            }}
          />
        </div>
      ))}
      <div className="col-span-full">
        <button
          type="button"
          className="button px-3"
          disabled={disabled}
          onClick={() => onChange({ kept: [...kept, { what: "coils", length_m: 5 }] })}
        >
          Keep some of it
        </button>
      </div>
    </>
  );
}
