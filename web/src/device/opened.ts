/** The device's store, its script fetched once it is first asked for: the first view does without. */
import type { store } from "./store";

export async function opened(): Promise<typeof store> {
  return (await import("./store")).store;
}
