/** What this person likes to read: palette and units. Kept on this device. */
import { createContext, useContext, useEffect, useState, type ReactNode } from "react";

export type ForceUnit = "kN" | "kgf" | "lbf";
export type LengthUnit = "m" | "ft";
export interface Settings {
  night: boolean;
  force: ForceUnit;
  length: LengthUnit;
  /** One of each unit in SI; filled from the server's catalogue. */
  si: Record<string, number>;
}

const KEY = "outrigger.settings";
const fresh: Settings = { night: false, force: "kN", length: "m", si: {} };
const Context = createContext<[Settings, (change: Partial<Settings>) => void]>([fresh, () => {}]);

/** As they were kept; what can not be read, or is none of these, is as it is fresh. */
function kept(): Settings {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Settings>;
    return {
      night: found.night === true,
      force: (["kN", "kgf", "lbf"] as const).find((one) => one === found.force) ?? fresh.force,
      length: (["m", "ft"] as const).find((one) => one === found.length) ?? fresh.length,
      si: typeof found.si === "object" && found.si !== null ? found.si : {},
    };
  } catch {
    return fresh;
  }
}

export function SettingsProvider({ children }: { children: ReactNode }) {
  const [settings, set] = useState(kept);
  useEffect(() => {
    document.documentElement.dataset["theme"] = settings.night ? "night" : "day";
    localStorage.setItem(KEY, JSON.stringify(settings));
  }, [settings]);
  return <Context value={[settings, (change) => set((old) => ({ ...old, ...change }))]}>{children}</Context>;
}

export function useSettings() {
  return useContext(Context);
}
