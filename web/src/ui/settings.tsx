/** What this person likes to read: palette, units, size of type, hand; and how the sheet's parts were left. Kept on this device. */
import { createContext, useContext, useEffect, useState, type ReactNode } from "react";

export type ForceUnit = "kN" | "kgf" | "lbf";
export type LengthUnit = "m" | "ft";
export const TYPE_SIZES = [100, 125, 150] as const;
export type TypeSize = (typeof TYPE_SIZES)[number];
export interface Settings {
  night: boolean;
  force: ForceUnit;
  length: LengthUnit;
  /** Size of type in percent of the usual. */
  size: TypeSize;
  /** Whether what is touched most lies at the left. */
  leftHand: boolean;
  /** Whether the load path was left open. */
  pathOpen: boolean;
  /** How far the drawer of a stage was left drawn up, as a share of the height; 0: down. */
  drawn: Record<string, number>;
  /** One of each unit in SI; filled from the server's catalogue. */
  si: Record<string, number>;
}

const KEY = "outrigger.settings";
const fresh: Settings = {
  night: false,
  force: "kN",
  length: "m",
  size: 100,
  leftHand: false,
  pathOpen: false,
  drawn: {},
  si: {},
};
const Context = createContext<[Settings, (change: Partial<Settings>) => void]>([fresh, () => {}]);

/** As they were kept; what can not be read, or is none of these, is as it is fresh. */
function kept(): Settings {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Settings>;
    return {
      night: found.night === true,
      force: (["kN", "kgf", "lbf"] as const).find((one) => one === found.force) ?? fresh.force,
      length: (["m", "ft"] as const).find((one) => one === found.length) ?? fresh.length,
      size: TYPE_SIZES.find((one) => one === found.size) ?? fresh.size,
      leftHand: found.leftHand === true,
      pathOpen: found.pathOpen === true,
      drawn: numbers(found.drawn),
      si: numbers(found.si),
    };
  } catch {
    return fresh;
  }
}

function numbers(found: unknown): Record<string, number> {
  if (typeof found !== "object" || found === null) return {};
  return Object.fromEntries(
    Object.entries(found).filter((one): one is [string, number] => Number.isFinite(one[1] as number)),
  );
}

export function SettingsProvider({ children }: { children: ReactNode }) {
  const [settings, set] = useState(kept);
  useEffect(() => {
    const root = document.documentElement;
    root.dataset["theme"] = settings.night ? "night" : "day";
    root.dataset["hand"] = settings.leftHand ? "left" : "right";
    root.dataset["size"] = `${settings.size}`;
    root.style.fontSize = settings.size === 100 ? "" : `${settings.size}%`;
    localStorage.setItem(KEY, JSON.stringify(settings));
  }, [settings]);
  return <Context value={[settings, (change) => set((old) => ({ ...old, ...change }))]}>{children}</Context>;
}

export function useSettings() {
  return useContext(Context);
}
