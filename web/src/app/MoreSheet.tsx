/** How this person likes to read, and where else to go. */
import { Link } from "react-router";
import { OneOf } from "../ui/OneOf";
import { Sheet } from "../ui/Sheet";
import { TYPE_SIZES, useSettings, type ForceUnit } from "../ui/settings";

interface Props {
  planId: string;
  caution: string;
  username: string;
  onKeys: () => void;
  onAsk: () => void;
  onClose: () => void;
}

const UNITS: ForceUnit[] = ["kN", "kgf", "lbf"];

export function MoreSheet({ planId, caution, username, onKeys, onAsk, onClose }: Props) {
  const [settings, set] = useSettings();
  const links: [string, string][] = [
    ["Plans", "/plans"],
    ["Debrief", `/plans/${planId}/debrief`],
    ["Packing", `/plans/${planId}/packing`],
    ["Gear", `/plans/${planId}/gear`],
    ["Hand-over", `/plans/${planId}/handover`],
    ["Reference", "/reference"],
    ["Practise", "/practice"],
  ];
  return (
    <Sheet title="More" onClose={onClose} wide>
      <div className="grid grid-cols-[8rem_minmax(0,1fr)] items-center gap-y-2 narrow:grid-cols-1">
        <Row
          name="Palette"
          value={settings.night ? "Night" : "Day"}
          options={["Day", "Night"]}
          onChange={(one) => set({ night: one === "Night" })}
        />
        <Row
          name="Size of type"
          value={`${settings.size} %`}
          options={TYPE_SIZES.map((one) => `${one} %`)}
          onChange={(one) => set({ size: TYPE_SIZES.find((size) => `${size} %` === one) ?? 100 })}
        />
        <Row
          name="Units"
          value={inUnits(settings.force)}
          options={UNITS.map(inUnits)}
          onChange={(one) => {
            const force = UNITS.find((unit) => inUnits(unit) === one) ?? "kN";
            set({ force, length: force === "lbf" ? "ft" : "m" });
          }}
        />
        <Row
          name="Hand"
          value={settings.leftHand ? "Left" : "Right"}
          options={["Left", "Right"]}
          onChange={(one) => set({ leftHand: one === "Left" })}
        />
      </div>
      <div className="mt-4 flex flex-wrap gap-2">
        {links.map(([name, to]) => (
          <Link key={to} to={to} className="button flex items-center">
            {name}
          </Link>
        ))}
        <a className="button flex items-center" href="/api/guide" download>
          Guide to print
        </a>
        <button type="button" className="button" onClick={onAsk}>
          Ask the plan
        </button>
        <button type="button" className="button" onClick={onKeys}>
          Keys
        </button>
      </div>
      <p className="mt-4 font-label text-quiet">
        {username} is signed in. {caution}
      </p>
    </Sheet>
  );
}

const inUnits = (force: ForceUnit) => `${force}, ${force === "lbf" ? "ft" : "m"}`;

function Row(props: { name: string; value: string; options: string[]; onChange: (value: string) => void }) {
  const { name, value, options, onChange } = props;
  return (
    <>
      <span aria-hidden>{name}</span>
      <OneOf label={name} value={value} options={options.map((one) => ({ id: one, name: one }))} onChange={onChange} />
    </>
  );
}
