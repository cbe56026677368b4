/** Which plan is being packed on this device: labels read by its camera are counted for that. */
const KEY = "outrigger.packing";

export const packed = (): string | null => localStorage.getItem(KEY);

export const packs = (plan: string) => localStorage.setItem(KEY, plan);
