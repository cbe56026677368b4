/** The ropes of the lines: what they are, how they are tied at the load, what grips them and what lies behind that. */
import type { Line } from "../../api/types";
import { Choice, NumberField } from "../../ui/fields";
import { named, replaced, ropesBy, type LedgerProps } from "../../plan/ledger";
import { KeptLedger } from "./KeptLedger";
import { DeviceLook, HitchesLook, RopeLook } from "./TiedLedger";

export function RopeLedger({ open, catalogue, lines }: LedgerProps) {
  const { document } = open;
  const off = !open.canEdit;
  const all = document.lines ?? [];
  if (!all.length) return <p className="text-answer">No line is laid yet: the ropes come with them, under Lines.</p>;
  return (
    <div className="flex flex-col gap-2">
      {all.map((line, index) => {
        const number = (document.ropes ?? []).findIndex((one) => one.id === line.rope);
        const rope = document.ropes?.[number];
        const name = open.report?.lines.find((one) => one.id === line.id)?.name ?? line.id;
        if (!rope) return null;
        const changeRope = (with_: Partial<typeof rope>) =>
          open.edit((old) => ({ ...old, ropes: replaced(old.ropes ?? [], number, with_) }));
        const change = (with_: Partial<Line>) => lines.line(line.id, (old) => ({ ...old, ...with_ }));
        return (
          <fieldset key={line.id} className="grid grid-cols-2 gap-2 border-b border-line pb-2 lg:grid-cols-5">
            <legend className="font-semibold">{name}</legend>
            <Choice
              label="Rope"
              value={rope.kind}
              options={named(catalogue.ropes)}
              disabled={off}
              onChange={(kind) => changeRope({ kind: kind! })}
            />
            <NumberField
              label="Length"
              unit="m"
              path={`ropes[${number}].length_m`}
              value={rope.length_m}
              disabled={off}
              onChange={(length_m) => changeRope({ length_m: length_m! })}
            />
            <NumberField
              label="Tail kept at the station"
              unit="m"
              path={`lines[${index}].tail_m`}
              value={line.tail_m ?? 5}
              disabled={off}
              onChange={(tail_m) => change({ tail_m: tail_m! })}
            />
            <Choice
              label="Knot at the load"
              value={line.load_knot}
              options={named(catalogue.knots)}
              disabled={off}
              onChange={(load_knot) => change({ load_knot: load_knot! })}
            />
            <Choice
              label="Connector at the load"
              value={line.load_connector}
              options={named(catalogue.connectors)}
              disabled={off}
              onChange={(load_connector) => change({ load_connector: load_connector! })}
            />
            {line.haul ? (
              <>
                <Choice
                  label="Haul grab"
                  value={line.haul.grab ?? "prusik-8"}
                  options={named(catalogue.hitches)}
                  disabled={off}
                  onChange={(grab) => lines.haul({ grab: grab! })}
                />
                <NumberField
                  label="Grab set forward, at most (empty: to the first corner)"
                  unit="m"
                  optional
                  path={`lines[${index}].haul.reach_m`}
                  value={line.haul.reach_m ?? null}
                  disabled={off}
                  onChange={(reach_m) => lines.haul({ reach_m })}
                />
                <NumberField
                  label="Haulers' way (empty: not known)"
                  unit="m"
                  optional
                  path={`lines[${index}].haul.way_m`}
                  value={line.haul.way_m ?? null}
                  disabled={off}
                  onChange={(way_m) => lines.haul({ way_m })}
                />
                {line.haul.own ? null : (
                  <Choice
                    label="Strands that are not of this rope are of"
                    none="nobody said"
                    path={`lines[${index}].haul.strands_of`}
                    value={line.haul.strands_of ?? null}
                    options={ropesBy(document)}
                    disabled={off}
                    onChange={(strands_of) => lines.haul({ strands_of })}
                  />
                )}
                <NumberField
                  label="Releasing hitch behind the ratchet gives"
                  unit="m"
                  optional
                  path={`lines[${index}].haul.capture_releasing_m`}
                  value={line.haul.capture_releasing_m ?? null}
                  disabled={off}
                  onChange={(capture_releasing_m) => lines.haul({ capture_releasing_m })}
                />
              </>
            ) : null}
            {line.belay ? (
              <>
                <NumberField
                  label="Releasing hitch behind it gives (empty: none)"
                  unit="m"
                  optional
                  path={`lines[${index}].belay.releasing_m`}
                  value={line.belay.releasing_m ?? null}
                  disabled={off}
                  onChange={(releasing_m) => change({ belay: { ...line.belay!, releasing_m } })}
                />
                <NumberField
                  label="Tied behind it with slack (empty: free)"
                  unit="m"
                  optional
                  path={`lines[${index}].belay.tied_behind_m`}
                  value={line.belay.tied_behind_m ?? null}
                  disabled={off}
                  onChange={(tied_behind_m) => change({ belay: { ...line.belay!, tied_behind_m } })}
                />
              </>
            ) : null}
            {line.lowering ? (
              <NumberField
                label="Tied behind the device with slack (empty: free)"
                unit="m"
                optional
                path={`lines[${index}].lowering.tied_behind_m`}
                value={line.lowering.tied_behind_m ?? null}
                disabled={off}
                onChange={(tied_behind_m) => change({ lowering: { ...line.lowering!, tied_behind_m } })}
              />
            ) : null}
            <RopeLook
              rope={rope}
              path={`ropes[${number}]`}
              catalogue={catalogue}
              disabled={off}
              onChange={changeRope}
            />
            <KeptLedger rope={rope} path={`ropes[${number}]`} disabled={off} onChange={changeRope} />
            <DeviceLook line={line} path={`lines[${index}]`} catalogue={catalogue} disabled={off} onChange={change} />
            <HitchesLook line={line} path={`lines[${index}]`} catalogue={catalogue} disabled={off} onChange={change} />
          </fieldset>
        );
      })}
    </div>
  );
}
