/** What the scheme of an arrangement asks of its own. */
import type { Arrangement, Catalogue } from "../../api/types";
import { Choice, NumberField } from "../../ui/fields";

export function SchemeFields({
  arrangement,
  catalogue,
  disabled,
  onChange,
}: {
  arrangement: Arrangement;
  catalogue: Catalogue;
  disabled: boolean;
  onChange: (with_: Partial<Arrangement>) => void;
}) {
  const { span, prop } = arrangement;
  const scheme = catalogue.schemes[arrangement.scheme];
  if (scheme?.slides === "unless-locked")
    return (
      <>
        <Choice
          label="Slides on"
          value={arrangement.slider ?? "carabiner"}
          options={Object.values(catalogue.bends)}
          disabled={disabled}
          onChange={(slider) => slider && onChange({ slider })}
        />
        <NumberField
          label="Limiting knots let it run"
          unit="m"
          optional
          value={arrangement.limit_m ?? null}
          disabled={disabled}
          onChange={(limit_m) => onChange({ limit_m })}
        />
        <Choice
          label="Slider"
          value={arrangement.locked ? "locked" : "free"}
          options={[
            { id: "free", name: "free to run" },
            { id: "locked", name: "locked by a knot" },
          ]}
          disabled={disabled}
          onChange={(id) => onChange({ locked: id === "locked", ...closedSo(arrangement, id === "locked") })}
        />
      </>
    );
  if (span)
    return (
      <>
        <NumberField
          label="Ropes side by side"
          value={span.ropes ?? 1}
          disabled={disabled}
          onChange={(ropes) => onChange({ span: { ...span, ropes: Math.round(ropes ?? 1) } })}
        />
        <Choice
          label="Load on the line"
          value={span.carriage ?? "gathered"}
          options={[
            { id: "gathered", name: "at a knot" },
            { id: "rolls", name: "on a carriage" },
          ]}
          disabled={disabled}
          onChange={(carriage) => onChange({ span: { ...span, carriage: carriage as "gathered" | "rolls" } })}
        />
        <Choice
          label="Slips at one end"
          none="nothing slips"
          value={span.slips ?? null}
          options={Object.values(catalogue.devices).filter((one) => one.gives === "slips")}
          disabled={disabled}
          onChange={(slips) => onChange({ span: { ...span, slips } })}
        />
        <OwnLoad arrangement={arrangement} disabled={disabled} onChange={onChange} />
        <Choice
          label="Both lines"
          value={span.ends ?? "gathered"}
          options={[
            { id: "gathered", name: "gathered into both anchors" },
            { id: "one-each", name: "one to each anchor" },
          ]}
          disabled={disabled}
          onChange={(ends) => onChange({ span: { ...span, ends: ends as "gathered" | "one-each" } })}
        />
      </>
    );
  if (scheme?.propped)
    return (
      <Choice
        label="Held up by a pole"
        value={prop ? "pole" : "none"}
        options={[
          { id: "none", name: "no pole" },
          { id: "pole", name: "pole under the point" },
        ]}
        disabled={disabled}
        onChange={(id) =>
          onChange({
            prop:
              id === "pole"
                ? (prop ?? {
                    foot: { x_m: arrangement.point.x_m, y_m: arrangement.point.y_m, z_m: arrangement.point.z_m - 1 },
                    holds_n: { low: 2000, expected: 3000, high: 4000 },
                    basis: "pole as cut, not measured",
                  })
                : null,
          })
        }
      />
    );
  return null;
}

/** One piece for all legs is closed by a knot where it is locked, and slides where it is not. */
function closedSo({ piece }: Arrangement, locked: boolean): Partial<Arrangement> {
  if (!piece) return {};
  return {
    piece: locked
      ? { ...piece, closed: "one-knot", knot: "long-bight-overhand" }
      : { closed: "slides", knot: null, joined: piece.joined ?? "double-fisherman" },
  };
}

/** A load of its own on a tension line, hanging; without one, the main line pulls on it. */
function OwnLoad({
  arrangement,
  disabled,
  onChange,
}: {
  arrangement: Arrangement;
  disabled: boolean;
  onChange: (with_: Partial<Arrangement>) => void;
}) {
  const { pull } = arrangement;
  const set = (key: "low" | "expected" | "high", value: number | null) => {
    if (value === null) return onChange({ pull: null });
    const old = pull ?? { force_n: { low: value, expected: value, high: value }, heading_rad: 0, dip_rad: Math.PI / 2 };
    return onChange({ pull: { ...old, force_n: { ...old.force_n, [key]: value } } });
  };
  return (["low", "expected", "high"] as const).map((key) => (
    <NumberField
      key={key}
      label={`Own load, ${key} (empty: the main line)`}
      unit="N"
      optional
      value={pull?.force_n[key] ?? null}
      disabled={disabled}
      onChange={(value) => set(key, value)}
    />
  ));
}
