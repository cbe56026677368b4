/** What can be changed at a line: what lowers, hauls, catches, and its tension line. */
import type { Catalogue, Line, StateReport } from "../../api/types";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { haulingLine, lineIndex, mainLine } from "../../plan/document";
import type { OpenPlan } from "../../plan/usePlan";
import type { What } from "../../ui/ChoiceSheet";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { Wrong } from "../../ui/Wrong";
import type { HaulEdits } from "./useHaulEdits";
import type { LineEdits } from "../../plan/useLineEdits";

interface Tools {
  open: OpenPlan;
  catalogue: Catalogue;
  lines: LineEdits;
  onChoose: (what: What) => void;
}

/** What can be changed in the states of a group. */
export function LineTools(
  props: Tools & { group: StateReport["group"]; edits: HaulEdits; onTension: (line: string) => void },
) {
  const { group } = props;
  return (
    <>
      {group === "lower" || group === "held" ? <LoweringTools {...props} /> : null}
      {group === "raise" ? <HaulTools {...props} /> : null}
      {group === "goes" || group === "held" ? <BelayTools {...props} /> : null}
    </>
  );
}

function LoweringTools({ open, catalogue, lines, onChoose }: Tools) {
  const main = mainLine(open.document);
  const lowering = main?.lowering;
  const off = !open.canEdit;
  if (!main) return null;
  const put = (change: object) => lines.line(main.id, (old) => ({ ...old, lowering: { ...old.lowering!, ...change } }));
  const device = lowering && catalogue.devices[lowering.device];
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <Chosen
        label="Lowering device"
        name={device?.name}
        none="choose what lowers"
        disabled={off}
        onOpen={() => onChoose("lowering")}
      />
      {lowering && !device?.self_locking ? (
        <Chosen
          label="Brake-side hitch"
          name={lowering.brake_hitch ? catalogue.hitches[lowering.brake_hitch]?.name : undefined}
          none="nothing holds if hands let go"
          disabled={off}
          onOpen={() => onChoose("brake")}
        />
      ) : null}
      {lowering?.brake_hitch ? (
        <div className="w-40">
          <TextField
            label="Minded by"
            value={lowering.minder ?? ""}
            disabled={off}
            onChange={(minder) => put({ minder })}
          />
        </div>
      ) : null}
    </div>
  );
}

function HaulTools({ open, catalogue, edits, lines, onChoose }: Tools & { edits: HaulEdits }) {
  const line = haulingLine(open.document);
  const haul = line?.haul;
  const changes: [string, () => void][] = [
    ["Stack a 2:1 on the haul strand", () => edits.stack("drop-2")],
    ["Stack a 3:1 on the haul strand", () => edits.stack("z-3")],
    ["Add a change of direction", edits.redirect],
    ...(line?.role === "main"
      ? [["Drop loop of the free end beside it, old strand as backup", lines.dropLoop] as [string, () => void]]
      : []),
    ...(haul?.redirects?.length ? [["Lead it straight again", lines.straight] as [string, () => void]] : []),
  ];
  const off = !open.canEdit;
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      <Chosen
        label="Haul system"
        name={haul?.system.name}
        none="choose what raises"
        disabled={off}
        onOpen={() => onChoose("haul")}
      />
      {haul ? (
        <>
          <Menu as="div" className="relative">
            <MenuButton className="button px-2" disabled={off}>
              Change it <span aria-hidden>▾</span>
            </MenuButton>
            <MenuItems
              anchor={{ to: "bottom start", gap: 2 }}
              className="z-50 border-2 border-ink bg-sheet shadow-lg focus:outline-none"
            >
              {changes.map(([name, change]) => (
                <MenuItem key={name}>
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center px-3 data-focus:bg-film"
                    onClick={change}
                  >
                    {name}
                  </button>
                </MenuItem>
              ))}
            </MenuItems>
          </Menu>
          <div className="w-28">
            <Choice
              label="Attached"
              value={haul.attached ?? "grab"}
              disabled={off}
              options={[
                { id: "grab", name: "on a grab" },
                { id: "load", name: "at the load" },
              ]}
              onChange={(attached) => lines.haul({ attached: attached as "grab" | "load" })}
            />
          </div>
          <Chosen
            label="Haul grab"
            name={catalogue.hitches[haul.grab ?? "prusik-8"]?.name}
            none="choose what grabs"
            disabled={off}
            onOpen={() => onChoose("grab")}
          />
          <Chosen
            label="Progress capture"
            name={haul.capture ? catalogue.hitches[haul.capture]?.name : undefined}
            none="none: hangs on hands"
            disabled={off}
            onOpen={() => onChoose("capture")}
          />
          {haul.capture ? (
            <div className="w-20">
              <TextField
                label="Minded by"
                led="minder"
                value={haul.capture_minder ?? ""}
                disabled={off}
                onChange={(capture_minder) => lines.haul({ capture_minder })}
              />
            </div>
          ) : null}
        </>
      ) : null}
      {edits.trouble ? <Wrong className="basis-full">{edits.trouble}</Wrong> : null}
    </div>
  );
}

function BelayTools({ open, catalogue, lines, onChoose, onTension }: Tools & { onTension: (line: string) => void }) {
  const { document } = open;
  const belay = (document.lines ?? []).find((one) => one.role === "belay");
  const second = (document.lines ?? []).find((one) => one.role === "second");
  const off = !open.canEdit;
  if (!mainLine(document)) return null;
  if (!belay && !second)
    return (
      <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
        <button type="button" className="button" disabled={off} onClick={() => onChoose("belay")}>
          Add a belay
        </button>
        <button type="button" className="button" disabled={off} onClick={lines.second}>
          Add a second rope, loaded alike
        </button>
        <TensionButton open={open} lines={lines} onTension={onTension} />
      </div>
    );
  return (
    <div className="flex flex-wrap items-end gap-2 px-4 pt-2">
      {belay ? (
        <>
          <Chosen
            label="Belay"
            name={catches(belay, catalogue)}
            none="choose what catches"
            disabled={off}
            onOpen={() => onChoose("belay")}
          />
          <div className="w-24">
            <NumberField
              label="Slack"
              unit="m"
              path={`lines[${lineIndex(document, belay.id)}].slack_m`}
              value={belay.slack_m ?? 0}
              disabled={off}
              onChange={(slack_m) => lines.line(belay.id, (old) => ({ ...old, slack_m: slack_m! }))}
            />
          </div>
          <div className="w-28">
            <TextField
              label="Belayed by"
              value={belay.belay?.minder ?? ""}
              disabled={off}
              onChange={(minder) => lines.line(belay.id, (old) => ({ ...old, belay: { ...old.belay!, minder } }))}
            />
          </div>
        </>
      ) : null}
      {[belay, second].flatMap((line) =>
        line ? (
          <div key={line.id} className="w-48">
            <Choice
              label={line.role === "belay" ? "Belay's anchor" : "Second rope's anchor"}
              path={`lines[${lineIndex(document, line.id)}].anchor`}
              value={line.anchor}
              disabled={off}
              options={document.anchors.map(({ id, name }) => ({ id, name }))}
              onChange={(anchor) => anchor && lines.line(line.id, (old) => ({ ...old, anchor }))}
            />
          </div>
        ) : (
          []
        ),
      )}
      {(belay ?? second) ? (
        <button
          type="button"
          className="button px-3"
          disabled={off}
          aria-label="Off: take this line out"
          onClick={() => lines.drop((belay ?? second)!.id)}
        >
          Off
        </button>
      ) : null}
      <TensionButton open={open} lines={lines} onTension={onTension} />
    </div>
  );
}

function catches(line: Line, catalogue: Catalogue): string | undefined {
  const what = line.belay?.what ?? "";
  return { hitch: catalogue.hitches, device: catalogue.devices, tied: catalogue.knots }[line.belay?.holds ?? "hitch"][
    what
  ]?.name;
}

/** A tension line: to be added, or the way of the one that is there. */
function TensionButton({
  open,
  lines,
  onTension,
}: {
  open: OpenPlan;
  lines: LineEdits;
  onTension: (line: string) => void;
}) {
  const there = open.document.tension_lines?.[0];
  if (there)
    return (
      <button type="button" className="button px-3" onClick={() => onTension(there.id)}>
        Tension line
      </button>
    );
  return (
    <button type="button" className="button px-3" disabled={!open.canEdit} onClick={() => onTension(lines.tighten())}>
      Add a tension line
    </button>
  );
}

/** A choice that opens worked out: what is chosen, or what belongs here. */
function Chosen({
  label,
  name,
  none,
  disabled,
  onOpen,
}: {
  label: string;
  name: string | undefined;
  none: string;
  disabled: boolean;
  onOpen: () => void;
}) {
  return (
    <div>
      <p className="field-label">{label}</p>
      <button
        type="button"
        className={`field flex max-w-40 min-w-32 items-center justify-between gap-2 text-left ${name ? "" : "border-over font-semibold text-over"}`}
        aria-label={`${label}: ${name ?? none}`}
        disabled={disabled}
        onClick={onOpen}
      >
        <span className="min-w-0 leading-tight">{name ?? `◆ ${none}`}</span>
        <span aria-hidden className="text-quiet">
          ▾
        </span>
      </button>
    </div>
  );
}
