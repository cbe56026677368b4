/** Size-up: what the ground and the leader give. Everything typed here is drawn in ink above. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import type { ReactNode } from "react";
import type { OpenPlan } from "../../plan/usePlan";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { named, part, Remove, replaced, StateChoice, type LedgerProps as Props } from "../../plan/ledger";
import { BagsLedger } from "./BagsLedger";
import { PeopleLedger } from "./PeopleLedger";
import { RopeLedger } from "./RopeLedger";
import { useRows } from "../../ui/useRows";

export function SizeUp({ open, catalogue, lines }: Props) {
  const tabs: [string, ReactNode][] = [
    ["Load", <LoadLedger key="load" open={open} catalogue={catalogue} lines={lines} />],
    ["Day", <DayLedger key="day" open={open} catalogue={catalogue} lines={lines} />],
    ["Ground", <GroundLedger key="ground" open={open} />],
    ["Edges", <EdgeLedger key="edges" open={open} catalogue={catalogue} lines={lines} />],
    [
      "Bags",
      <>
        <KitLedger key="kit" open={open} catalogue={catalogue} lines={lines} />
        <BagsLedger key="bags" open={open} catalogue={catalogue} />
      </>,
    ],
    ["Ropes", <RopeLedger key="rope" open={open} catalogue={catalogue} lines={lines} />],
    ["People", <PeopleLedger key="people" open={open} />],
    ["Rule", <RuleLedger key="rule" open={open} />],
  ];
  return (
    <TabGroup className="flex min-h-0 flex-1 flex-col">
      <TabList className="flex flex-wrap gap-1 border-b border-line px-3 pt-1">
        {tabs.map(([name]) => (
          <Tab
            key={name}
            className="min-h-11 border-b-4 border-transparent px-3 data-selected:border-over data-selected:font-semibold"
          >
            {name}
          </Tab>
        ))}
      </TabList>
      <TabPanels className="min-h-0 flex-1 overflow-y-auto px-4 py-2">
        {tabs.map(([name, panel]) => (
          <TabPanel key={name} tabIndex={-1}>
            {panel}
          </TabPanel>
        ))}
      </TabPanels>
    </TabGroup>
  );
}

function LoadLedger({ open, catalogue, lines }: Props) {
  const { load } = open.document;
  const edit = part(open, "load");
  const off = !open.canEdit;
  const rows = useRows(load.items.length);
  return (
    <div className="flex flex-col gap-1.5">
      {load.items.map((item, index) => (
        <div
          key={rows.key(index)}
          className="grid grid-cols-[1fr_6rem_6rem_11rem_auto] narrow:grid-cols-2 items-end gap-2"
        >
          <TextField
            label="Who or what"
            bare={index > 0}
            path={`load.items[${index}].name`}
            value={item.name}
            disabled={off}
            onChange={(name) => edit((old) => ({ ...old, items: replaced(old.items, index, { name }) }))}
          />
          <NumberField
            label="Mass"
            bare={index > 0}
            unit="kg"
            path={`load.items[${index}].mass_kg`}
            value={item.mass_kg}
            disabled={off}
            onChange={(mass_kg) =>
              edit((old) => ({ ...old, items: replaced(old.items, index, { mass_kg: mass_kg! }) }))
            }
          />
          <NumberField
            label="± "
            bare={index > 0}
            unit="kg"
            path={`load.items[${index}]`}
            value={item.plus_minus_kg ?? 0}
            disabled={off}
            onChange={(plus_minus_kg) =>
              edit((old) => ({ ...old, items: replaced(old.items, index, { plus_minus_kg: plus_minus_kg! }) }))
            }
          />
          <NumberField
            label="Joins, below the edge (empty: all the way)"
            bare={index > 0}
            unit="m"
            optional
            path={`load.items[${index}].joins_below_m`}
            value={item.joins_below_m ?? null}
            disabled={off}
            onChange={(joins_below_m) =>
              edit((old) => ({ ...old, items: replaced(old.items, index, { joins_below_m }) }))
            }
          />
          <Remove
            what={item.name}
            disabled={off || load.items.length === 1}
            onClick={() => {
              rows.gone(index);
              edit((old) => ({ ...old, items: old.items.filter((_, at) => at !== index) }));
            }}
          />
        </div>
      ))}
      <div className="flex flex-wrap items-end gap-3">
        <button
          type="button"
          className="button"
          disabled={off}
          onClick={() =>
            edit((old) => ({ ...old, items: [...old.items, { name: "Another", mass_kg: 80, plus_minus_kg: 20 }] }))
          }
        >
          Add
        </button>
        <button type="button" className="button" disabled={off} onClick={lines.hangStraight}>
          Hang it straight under the main anchor
        </button>
        <div className="w-72">
          <Choice
            label="Against the ground"
            value={load.contact}
            options={named(catalogue.contacts)}
            disabled={off}
            onChange={(contact) => edit((old) => ({ ...old, contact: contact! }))}
          />
        </div>
      </div>
    </div>
  );
}

/** What today makes of everything; what each condition leaves stands beside it. */
function DayLedger({ open, catalogue }: Props) {
  const { day } = open.document;
  const edit = part(open, "day");
  const off = !open.canEdit;
  const now = catalogue.conditions[day?.state ?? ""];
  const shares: [string, keyof NonNullable<typeof now>][] = [
    ["strength of nylon", "nylon"],
    ["grip of hitches", "hitch"],
    ["grip of clamps", "clamp"],
    ["what devices brake", "device"],
    ["friction over edges", "edge"],
    ["what a hand holds", "hand"],
    ["what a hauler pulls", "pull"],
  ];
  return (
    <div className="flex flex-col gap-2">
      <div className="grid max-w-xl grid-cols-2 items-end gap-2">
        <StateChoice
          label="Today it is"
          none="◆ nobody said: figures are for dry"
          catalogue={catalogue}
          value={day?.state}
          disabled={off}
          onChange={(state) => edit((old) => ({ ...old, state }))}
        />
        <NumberField
          label="How cold, °C (empty: not said)"
          optional
          path="day.temperature_c"
          value={day?.temperature_c ?? null}
          disabled={off}
          onChange={(temperature_c) => edit((old) => ({ ...old, temperature_c }))}
        />
      </div>
      <p className="font-label text-quiet">
        It holds for every rope, cord, edge and hand; a piece that is otherwise is told so under Ropes and Edges.
      </p>
      {now && now.id !== "dry" ? (
        <table className="max-w-xl text-left">
          <caption className="field-label text-left">{now.name}: what is left of what it is dry</caption>
          <tbody>
            {shares.map(([name, key]) => {
              const left = now[key] as { low: number; expected: number; high: number };
              return (
                <tr key={key} className="border-t border-line">
                  <th scope="row" className="py-1 pr-3 font-normal">
                    {name}
                  </th>
                  <td className="py-1 font-semibold tabular-nums">
                    {Math.round(left.low * 100)} to {Math.round(left.high * 100)} %
                  </td>
                  <td className="py-1 pl-3">{left.low === 0 ? "◆ may not grip at all" : ""}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
    </div>
  );
}

function GroundLedger({ open }: { open: OpenPlan }) {
  const { site } = open.document;
  const rows = useRows(site.profile.length);
  const edit = part(open, "site");
  const off = !open.canEdit;
  const point = (index: number, with_: { x_m?: number; z_m?: number }) =>
    edit((old) => ({ ...old, profile: replaced(old.profile, index, with_) }));
  const after = (index: number) =>
    edit((old) => {
      const [a, b] = [old.profile[index]!, old.profile[index + 1]];
      const made = b ? { x_m: (a.x_m + b.x_m) / 2, z_m: (a.z_m + b.z_m) / 2 } : { x_m: a.x_m + 5, z_m: a.z_m };
      return { ...old, profile: old.profile.toSpliced(index + 1, 0, made) };
    });
  return (
    <div>
      <p className="mb-1 font-label text-quiet">
        From the working point: metres out along the fall line, and height above it (below: minus). Drag the squares
        above, or type.
      </p>
      <div className="grid gap-x-6 gap-y-1.5 xl:grid-cols-2">
        {site.profile.map((one, index) => (
          <div
            key={rows.key(index)}
            className="grid grid-cols-[1.5rem_1fr_1fr_auto_auto] narrow:grid-cols-2 items-end gap-1.5"
          >
            <span className="pb-2.5 font-label">{index + 1}</span>
            <NumberField
              label={`Point ${index + 1} out`}
              bare={index > 1}
              unit="m"
              path={`site.profile[${index}].x_m`}
              value={one.x_m}
              disabled={off}
              onChange={(x_m) => point(index, { x_m: x_m! })}
            />
            <NumberField
              label={`Point ${index + 1} height`}
              bare={index > 1}
              unit="m"
              path={`site.profile[${index}].z_m`}
              value={one.z_m}
              disabled={off}
              onChange={(z_m) => point(index, { z_m: z_m! })}
            />
            <button
              type="button"
              className="button px-3"
              aria-label={`Add a point after ${index + 1}`}
              disabled={off}
              onClick={() => {
                rows.put(index + 1);
                after(index);
              }}
            >
              +
            </button>
            <Remove
              what={`point ${index + 1}`}
              disabled={off || site.profile.length < 3}
              onClick={() => {
                rows.gone(index);
                edit((old) => ({ ...old, profile: old.profile.toSpliced(index, 1) }));
              }}
            />
          </div>
        ))}
      </div>
      <div className="mt-2 grid max-w-md grid-cols-2 gap-2">
        <NumberField
          label="Load, out"
          unit="m"
          path="site.load_at.x_m"
          value={site.load_at.x_m}
          disabled={off}
          onChange={(x_m) => edit((old) => ({ ...old, load_at: { ...old.load_at, x_m: x_m! } }))}
        />
        <NumberField
          label="Load, height"
          unit="m"
          path="site.load_at.z_m"
          value={site.load_at.z_m}
          disabled={off}
          onChange={(z_m) => edit((old) => ({ ...old, load_at: { ...old.load_at, z_m: z_m! } }))}
        />
      </div>
    </div>
  );
}

function EdgeLedger({ open, catalogue }: Props) {
  const { site } = open.document;
  const edit = part(open, "site");
  const off = !open.canEdit;
  const edges = site.edges ?? [];
  const rows = useRows(edges.length);
  const surfaces = Object.values(catalogue.surfaces);
  const change = (index: number, with_: Partial<(typeof edges)[number]>) =>
    edit((old) => ({ ...old, edges: replaced(old.edges ?? [], index, with_) }));
  return (
    <div className="flex flex-col gap-2">
      {edges.map((edge, index) => (
        <div
          key={rows.key(index)}
          className="grid grid-cols-[1fr_5.5rem_5.5rem_auto] narrow:grid-cols-2 items-end gap-1.5 border-b border-line pb-2 xl:grid-cols-[1fr_5.5rem_5.5rem_9.5rem_9.5rem_auto]"
        >
          <TextField
            label="Edge"
            path={`site.edges[${index}].name`}
            value={edge.name}
            disabled={off}
            onChange={(name) => change(index, { name })}
          />
          <NumberField
            label="Out"
            unit="m"
            path={`site.edges[${index}].x_m`}
            value={edge.x_m}
            disabled={off}
            onChange={(x_m) => change(index, { x_m: x_m! })}
          />
          <NumberField
            label="Height"
            unit="m"
            path={`site.edges[${index}].z_m`}
            value={edge.z_m}
            disabled={off}
            onChange={(z_m) => change(index, { z_m: z_m! })}
          />
          <div className="xl:order-last">
            <Remove
              what={edge.name}
              disabled={off}
              onClick={() => {
                rows.gone(index);
                edit((old) => ({ ...old, edges: (old.edges ?? []).filter((_, at) => at !== index) }));
              }}
            />
          </div>
          <Choice
            label="Surface"
            value={edge.surface}
            options={surfaces.filter((one) => one.role === "ground")}
            disabled={off}
            onChange={(surface) => change(index, { surface: surface! })}
          />
          <Choice
            label="Laid over it"
            none="nothing"
            value={edge.protection ?? null}
            options={surfaces.filter((one) => one.role === "protection")}
            disabled={off}
            onChange={(protection) => change(index, { protection })}
          />
          <StateChoice
            none="as the day"
            catalogue={catalogue}
            value={edge.state}
            disabled={off}
            onChange={(state) => change(index, { state })}
          />
          <Choice
            label="A tight rope on it"
            value={edge.sawn ? "sawn" : "still"}
            options={[
              { id: "still", name: "lies still, or runs lengthwise" },
              { id: "sawn", name: "moves sideways" },
            ]}
            disabled={off}
            onChange={(id) => change(index, { sawn: id === "sawn" })}
          />
        </div>
      ))}
      <div className="flex flex-wrap items-end gap-3">
        <button
          type="button"
          className="button"
          disabled={off}
          onClick={() =>
            edit((old) => {
              const corner = open.report?.lines.flatMap((line) => line.turns).find((turn) => !turn.entered)?.at ??
                old.profile.find((point) => point.x_m > 0) ?? { x_m: 5, z_m: 0 };
              return {
                ...old,
                edges: [
                  ...(old.edges ?? []),
                  {
                    name: `Edge ${(old.edges ?? []).length + 1}`,
                    x_m: corner.x_m,
                    z_m: corner.z_m,
                    surface: old.surface,
                    protection: null,
                    sawn: false,
                  },
                ],
              };
            })
          }
        >
          Add an edge
        </button>
        <div className="w-60">
          <Choice
            label="Bare ground everywhere else"
            value={site.surface}
            options={surfaces.filter((one) => one.role === "ground")}
            disabled={off}
            onChange={(surface) => edit((old) => ({ ...old, surface: surface! }))}
          />
        </div>
      </div>
    </div>
  );
}

function KitLedger({ open, catalogue }: Props) {
  const kit = open.document.kit ?? [];
  const rows = useRows(kit.length);
  const edit = part(open, "kit");
  const off = !open.canEdit;
  const change = (index: number, with_: Partial<(typeof kit)[number]>) =>
    edit((old) => replaced(old ?? [], index, with_));
  return (
    <div className="flex flex-col gap-1.5">
      <p className="font-label text-quiet">
        What is in the bags to tie anchors with. A sewn loop counts by its length laid flat.
      </p>
      {kit.map((item, index) => (
        <div
          key={rows.key(index)}
          className="grid max-w-3xl grid-cols-[1fr_7rem_6rem_7rem_auto] narrow:grid-cols-2 items-end gap-2"
        >
          <Choice
            label="Material"
            bare={index > 0}
            value={item.material}
            options={named(catalogue.slings)}
            disabled={off}
            onChange={(material) => material && change(index, { material })}
          />
          <NumberField
            label="Length"
            bare={index > 0}
            unit="m"
            path={`kit[${index}].length_m`}
            value={item.length_m}
            disabled={off}
            onChange={(length_m) => change(index, { length_m: length_m! })}
          />
          <NumberField
            label="Pieces"
            bare={index > 0}
            path={`kit[${index}].count`}
            value={item.count ?? 1}
            disabled={off}
            onChange={(count) => change(index, { count: Math.round(count!) })}
          />
          <NumberField
            label="Years"
            bare={index > 0}
            optional
            path={`kit[${index}].age_years`}
            value={item.age_years ?? null}
            disabled={off}
            onChange={(age_years) => change(index, { age_years })}
          />
          <Remove
            what={`${item.length_m} m`}
            disabled={off}
            onClick={() => {
              rows.gone(index);
              edit((old) => (old ?? []).toSpliced(index, 1));
            }}
          />
        </div>
      ))}
      <div>
        <button
          type="button"
          className="button"
          disabled={off}
          onClick={() => edit((old) => [...(old ?? []), { material: "tubular-25", length_m: 6, count: 1 }])}
        >
          Add
        </button>
      </div>
    </div>
  );
}

/** Every line's rope, and how it is tied at the load. */
const SCHOOLS = [
  { id: "static-ratio", name: "Static ratio: strength over load" },
  { id: "force-limit", name: "Force limit: something slips first" },
];

/** The rule that the team works under, in words, with what it means for this load. */
function RuleLedger({ open }: { open: OpenPlan }) {
  const { rules } = open.document;
  const edit = part(open, "rules");
  const off = !open.canEdit;
  const told = open.whole?.rule;
  const number = (
    key: "anchors_ratio" | "others_ratio" | "slip_ratio" | "cap_margin",
    label: string,
    usual: number,
  ) => (
    <NumberField
      label={label}
      path={`rules.${key}`}
      value={rules?.[key] ?? usual}
      disabled={off}
      onChange={(value) => edit((old) => ({ ...old, [key]: value! }))}
    />
  );
  const limited = rules?.school === "force-limit";
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-2 lg:grid-cols-4">
        <Choice
          label="School"
          value={rules?.school ?? "static-ratio"}
          options={SCHOOLS}
          disabled={off}
          onChange={(school) => edit((old) => ({ ...old, school: school as "static-ratio" | "force-limit" }))}
        />
        {limited ? (
          number("cap_margin", "Behind what slips, at least, to 1", 2)
        ) : (
          <>
            {number("anchors_ratio", "Anchors at least, to 1", 10)}
            {number("others_ratio", "Other parts at least, to 1", 5)}
          </>
        )}
        {number("slip_ratio", "What slips, at least, to 1", 2)}
      </div>
      {told ? (
        <div data-testid="rule">
          <p className="text-body font-semibold">{told.text}</p>
          <ul className="text-body">
            {told.means.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </div>
      ) : null}
    </div>
  );
}
