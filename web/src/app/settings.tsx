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

export function SettingsProvider({ children }: { children: ReactNode }) {
  const [settings, set] = useState<Settings>(() => ({ ...fresh, ...JSON.parse(localStorage.getItem(KEY) ?? "{}") }));
  useEffect(() => {
    document.documentElement.dataset["theme"] = settings.night ? "night" : "day";
    localStorage.setItem(KEY, JSON.stringify(settings));
  }, [settings]);
  return <Context value={[settings, (change) => set((old) => ({ ...old, ...change }))]}>{children}</Context>;
}

export function useSettings() {
  return useContext(Context);
}
