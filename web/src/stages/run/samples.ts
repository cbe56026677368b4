/** Readings of the last minute and a half, as they come in: kept outside React, drawn from there. */
export interface Samples {
  times: number[];
  forces: number[];
  /** When the last came, by this device's clock. */
  heardAt: number;
}

const KEPT_MS = 95_000;

export interface Readings {
  cell: string;
  times_ms: number[];
  forces_n: number[];
}

export function take(all: Map<string, Samples>, said: Readings): void {
  const found = all.get(said.cell) ?? { times: [], forces: [], heardAt: 0 };
  found.times.push(...said.times_ms);
  found.forces.push(...said.forces_n);
  const old = found.times.findIndex((at) => at > found.times.at(-1)! - KEPT_MS);
  found.times.splice(0, old);
  found.forces.splice(0, old);
  found.heardAt = Date.now();
  all.set(said.cell, found);
}
