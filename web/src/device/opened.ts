/** The device's store, its script fetched once it is first asked for: the first view does without. */
import type { store } from "./store";

export async function opened(): Promise<typeof store> {
  return (await import("./store")).store;
}

/** Whether this device has ever kept anything: where not, nothing is looked for. */
export async function everKept(): Promise<boolean> {
  const known = await indexedDB.databases?.().catch(() => null);
  return known?.some((one) => one.name === "outrigger") ?? true;
}

let rested: () => void = () => {};
/** Once the first view stands, or somebody acts: what only serves later may come. */
export const atRest = new Promise<void>((done) => (rested = done));
export { rested };
