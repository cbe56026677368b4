/** Legs out of one piece: how it is closed; a point set down further; what only holds it in place; the order of tightening. */
import type { Arrangement, ArrangementReport, Catalogue, Document, Leg } from "../../api/types";
import { Choice, NumberField } from "../../ui/fields";
import { byItself } from "./useAnchorEdits";

interface Props {
  document: Document;
  arrangement: Arrangement;
  report: ArrangementReport | null;
  catalogue: Catalogue;
  path: string;
  disabled: boolean;
  onChange: (with_: Partial<Arrangement>) => void;
}

const CLOSED = [
  { id: "one-knot", name: "all legs out of one, bights in one knot" },
  { id: "leg-by-leg", name: "all legs out of one, each closed by a knot" },
];
const SLIDES = [{ id: "slides", name: "all legs out of one that slides" }];

export function PieceFields(props: Props) {
  const { arrangement, catalogue, path, disabled, onChange } = props;
  const scheme = catalogue.schemes[arrangement.scheme];
  const { piece } = arrangement;
  if (scheme?.made !== "point") return null;
  const slides = scheme.slides === "unless-locked" && !arrangement.locked;
  const knots = Object.values(catalogue.knots);
  return (
    <>
      <Choice
        label="Pieces"
        none="each leg of one of its own"
        path={`${path}.piece`}
        value={piece?.closed ?? null}
        options={slides ? SLIDES : CLOSED}
        disabled={disabled}
        onChange={(closed) =>
          onChange(closed ? intoOne(arrangement, catalogue, closed as Closed) : ofTheirOwn(arrangement))
        }
      />
      {piece && piece.closed !== "slides" ? (
        <Choice
          label={piece.closed === "one-knot" ? "Gathered in" : "Each closed by"}
          path={`${path}.piece.knot`}
          value={piece.knot ?? null}
          options={knots.filter((one) => !one.bend && !one.wire)}
          disabled={disabled}
          onChange={(knot) => knot && onChange({ piece: { ...piece, knot } })}
        />
      ) : null}
      {piece ? (
        <Choice
          label="Its ends"
          none="tied in, or round the first and last"
          path={`${path}.piece.joined`}
          value={piece.joined ?? null}
          options={knots.filter((one) => one.bend)}
          disabled={disabled}
          onChange={(joined) => onChange({ piece: { ...piece, joined } })}
        />
      ) : null}
      <SetDownFields {...props} />
      <TieFields {...props} />
      <TightenedFields {...props} />
    </>
  );
}

type Closed = "one-knot" | "leg-by-leg" | "slides";

/** The legs led out of one piece: what can not be tied in it is passed round. */
function intoOne(made: Arrangement, catalogue: Catalogue, closed: Closed): Partial<Arrangement> {
  const first = made.legs.find((leg) => !catalogue.slings[leg.material]?.sewn);
  const [material, rope] = [first?.material ?? "cord-8", first?.rope ?? null];
  const last = made.legs.length - 1;
  const legs = made.legs.map((leg, index): Leg => {
    const fits = catalogue.attachments[leg.method]?.in_piece ?? "never";
    const stays =
      !leg.extension &&
      (fits === "too" || fits === "only" || (fits === "end" && last > 0 && (index === 0 || index === last)));
    return {
      ...leg,
      ...(stays ? {} : { method: "passed", turns: null, pulled: null }),
      material,
      rope,
      extension: null,
      joined: null,
    };
  });
  const joined = closed === "slides" ? "double-fisherman" : (made.piece?.joined ?? null);
  const knot = closed === "slides" ? null : closed === "one-knot" ? "long-bight-overhand" : "clove";
  return { legs, knot: null, piece: { closed, knot, joined } };
}

function ofTheirOwn(made: Arrangement): Partial<Arrangement> {
  return { legs: made.legs.map(byItself), piece: null, ...(made.connector ? {} : { connector: "steel" }) };
}

function SetDownFields({ arrangement, catalogue, path, disabled, onChange }: Props) {
  const down = arrangement.set_down;
  const stage = down?.stages[0];
  const whole = Object.values(catalogue.slings).filter((one) => !one.section);
  const begin = (material: string | null) => {
    if (material === null) return onChange({ set_down: null, ...(down ? { point: { ...down.gathers_at } } : {}) });
    if (down) return onChange({ set_down: { ...down, stages: down.stages.map((one) => ({ ...one, material })) } });
    const at = arrangement.point;
    const heading = arrangement.heading_rad ?? 0;
    onChange({
      set_down: { gathers_at: { ...at }, stages: [{ material, strands: 2, knot: "figure-eight-loop" }] },
      point: { ...at, x_m: at.x_m + 2 * Math.cos(heading), y_m: at.y_m + 2 * Math.sin(heading) },
    });
  };
  return (
    <>
      <Choice
        label="Working point"
        none="where the legs come together"
        path={`${path}.set_down`}
        value={stage?.material ?? null}
        options={whole.map((one) => ({ id: one.id, name: `set down by ${one.name}` }))}
        disabled={disabled}
        onChange={begin}
      />
      {down && stage ? (
        <>
          <NumberField
            label="Strands it is set down by"
            value={stage.strands ?? 2}
            disabled={disabled}
            path={`${path}.set_down.stages[0].strands`}
            onChange={(strands) =>
              onChange({
                set_down: {
                  ...down,
                  stages: down.stages.map((one) => ({ ...one, strands: Math.round(strands ?? 2) })),
                },
              })
            }
          />
          <NumberField
            label="In stages, each held before the next"
            value={down.stages.length}
            disabled={disabled}
            path={`${path}.set_down.stages`}
            onChange={(count) => {
              const wanted = Math.min(4, Math.max(1, Math.round(count ?? 1)));
              onChange({ set_down: { ...down, stages: Array.from({ length: wanted }, () => stage) } });
            }}
          />
        </>
      ) : null}
    </>
  );
}

function TieFields({ document, arrangement, path, disabled, onChange }: Props) {
  const ties = arrangement.ties ?? [];
  const free = document.features.filter((one) => one.kind !== "frame-foot" && one.verdict !== "reject");
  return (
    <Choice
      label="Held in place by a tie that bears nothing"
      none="no tie"
      path={`${path}.ties[0].feature`}
      value={ties[0]?.feature ?? null}
      options={free}
      disabled={disabled}
      onChange={(feature) =>
        onChange({
          ties: feature
            ? [
                { ...(ties[0] ?? { method: "figure-eight-round", material: "cord-6" }), feature } as Leg,
                ...ties.slice(1),
              ]
            : ties.slice(1),
        })
      }
    />
  );
}

/** Legs that are pulled tight: in which order, how often round. */
function TightenedFields({ document, arrangement, report, path, disabled, onChange }: Props) {
  const given = arrangement.tightened;
  if (!report?.tight && !given) return null;
  const name = (leg: number) =>
    document.features.find((one) => one.id === arrangement.legs[leg]?.feature)?.name ?? `leg ${leg + 1}`;
  const advised = (report?.tight?.order ?? []).map((one) =>
    arrangement.legs.findIndex((leg) => document.features.find((at) => at.id === leg.feature)?.name === one),
  );
  const order = given?.order ?? advised;
  const first = (leg: number) =>
    onChange({ tightened: { order: [leg, ...order.filter((one) => one !== leg)], rounds: given?.rounds ?? 1 } });
  return (
    <>
      <Choice
        label="Pulled tight first"
        path={`${path}.tightened.order`}
        value={String(order[0] ?? 0)}
        options={arrangement.legs.map((_, leg) => ({ id: String(leg), name: name(leg) }))}
        disabled={disabled}
        onChange={(leg) => leg !== null && first(Number(leg))}
      />
      <NumberField
        label="How often round"
        value={given?.rounds ?? 1}
        disabled={disabled}
        path={`${path}.tightened.rounds`}
        onChange={(rounds) =>
          onChange({ tightened: { order, rounds: Math.min(6, Math.max(1, Math.round(rounds ?? 1))) } })
        }
      />
    </>
  );
}
