/** Haul systems side by side, unfolded; schemes of anchors from above. */
import type { Systems } from "../../api/types";
import { Shown } from "../../drawing/Shown";

const GRID = "min-h-0 flex-1 overflow-y-auto px-4 pb-6";
const CARDS = "grid grid-cols-[repeat(auto-fill,minmax(min(100%,380px),1fr))] gap-x-6 gap-y-4";

/** To each by its name. */
function Names({ of, rows }: { of: string; rows: { id: string; name: string }[] }) {
  return (
    <nav aria-label={of} className="flex flex-wrap gap-x-4">
      {rows.map((one) => (
        <a key={one.id} href={`#${one.id}`} className="inline-flex min-h-11 items-center underline">
          {one.name}
        </a>
      ))}
    </nav>
  );
}

export function HaulSystems({ systems }: { systems: Systems["systems"] }) {
  return (
    <main tabIndex={-1} className={GRID}>
      <p className="py-2 text-body">
        Load left, hands right. What each really gives, as expected: with a good pulley at every bend, and with bare
        connectors. What it comes to on a plan stands on its Lines.
      </p>
      <Names of="Haul systems" rows={systems} />
      <ul className={CARDS}>
        {systems.map((one) => (
          <li key={one.id} id={one.id} className="border-t-2 border-ink pt-1">
            <h2 className="text-answer leading-tight font-semibold">{one.name}</h2>
            <p className="text-body">
              <b className="text-over">{one.pulleys}</b> on pulleys, <b className="text-over">{one.bare}</b> on bare
              connectors. {one.ends}.
            </p>
            <Shown shown={one.shown} />
          </li>
        ))}
      </ul>
    </main>
  );
}

export function AnchorSchemes({ schemes }: { schemes: Systems["schemes"] }) {
  return (
    <main tabIndex={-1} className={GRID}>
      <Names of="Anchor schemes" rows={schemes} />
      <ul className={CARDS}>
        {schemes.map((one) => (
          <li key={one.id} id={one.id} className="border-t-2 border-ink pt-1">
            <h2 className="text-answer leading-tight font-semibold">
              {one.name} <span className="font-label text-base font-normal text-quiet">{one.legs}</span>
            </h2>
            <p className="text-body">{one.what}</p>
            <p className="text-body">
              <b>Look:</b> {one.look}
            </p>
            <Shown shown={one.shown} />
          </li>
        ))}
      </ul>
    </main>
  );
}
