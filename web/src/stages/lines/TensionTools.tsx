/** How a tension line is rigged: its ends, its ropes, how tight it is pulled, and what slips in it. */
import type { Catalogue, TensionLine } from "../../api/types";
import { taken, withoutIdle } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import { Choice, NumberField } from "../../ui/fields";

interface Props {
  open: OpenPlan;
  catalogue: Catalogue;
  line: string;
  onLine: (line: string | null) => void;
}

export function TensionTools({ open, catalogue, line, onLine }: Props) {
  const { document } = open;
  const all = document.tension_lines ?? [];
  const number = all.findIndex((one) => one.id === line);
  const tight = all[number];
  if (!tight) return null;
  const off = !open.canEdit;
  const put = (change: Partial<TensionLine>) =>
    open.edit((old) => ({
      ...old,
      tension_lines: (old.tension_lines ?? []).map((one) => (one.id === line ? { ...one, ...change } : one)),
    }));
  const path = `tension_lines[${number}]`;
  const ends = document.anchors.filter((one) => !taken(one).pull).map(({ id, name }) => ({ id, name }));
  const kinds = Object.values(catalogue.ropes).filter((one) => !one.slick);
  const rope = (document.ropes ?? []).find((one) => one.id === tight.rope);
  return (
    <div className="grid grid-cols-[1fr_1fr_1.2fr_0.6fr_0.9fr_1.2fr_0.7fr_auto] items-end gap-2 px-3 pt-1 max-lg:grid-cols-4">
      <Choice
        label="Near end"
        path={`${path}.anchor`}
        value={tight.anchor}
        options={ends}
        disabled={off}
        onChange={(anchor) => anchor && put({ anchor })}
      />
      <Choice
        label="Far end"
        path={`${path}.far`}
        value={tight.far}
        options={ends}
        disabled={off}
        onChange={(far) => far && put({ far })}
      />
      <Choice
        label="Rope"
        value={rope?.kind ?? null}
        options={kinds}
        disabled={off}
        onChange={(kind) =>
          kind &&
          open.edit((old) => ({
            ...old,
            ropes: (old.ropes ?? []).map((one) => (one.id === tight.rope ? { ...one, kind } : one)),
          }))
        }
      />
      <NumberField
        label="Ropes"
        path={`${path}.ropes`}
        value={tight.ropes ?? 1}
        disabled={off}
        onChange={(ropes) => ropes !== null && put({ ropes })}
      />
      <NumberField
        label="Pulled to"
        unit="N"
        path={`${path}.pretension_n`}
        value={tight.pretension_n ?? 0}
        disabled={off}
        onChange={(pretension_n) => pretension_n !== null && put({ pretension_n })}
      />
      <Choice
        label="What slips"
        none="nothing: not limited"
        value={tight.slips ?? null}
        options={Object.values(catalogue.devices).filter((one) => one.gives === "slips")}
        disabled={off}
        onChange={(slips) => put({ slips })}
      />
      <NumberField
        label="Hangs"
        unit="m"
        path={`${path}.hang_m`}
        value={tight.hang_m ?? 0}
        disabled={off}
        onChange={(hang_m) => hang_m !== null && put({ hang_m })}
      />
      <button
        type="button"
        className="button px-3"
        disabled={off}
        aria-label="Off: take this tension line out"
        onClick={() => {
          onLine(null);
          open.edit((old) =>
            withoutIdle(
              { ...old, tension_lines: (old.tension_lines ?? []).filter((one) => one.id !== line) },
              tight.rope,
            ),
          );
        }}
      >
        Off
      </button>
    </div>
  );
}
