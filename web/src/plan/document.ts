/** Questions asked of the plan document in more than one place. */
import type { Arrangement, Document, Feature } from "../api/types";

/** The arrangement that the line runs from. */
export function inUse(document: Document): Arrangement {
  return document.arrangements.find((one) => one.id === document.in_use) ?? document.arrangements[0]!;
}

/** The features that an arrangement pulls on, furthest back first. */
export function tiedTo(document: Document, arrangement: Arrangement): Feature[] {
  return document.features.filter((one) => arrangement.legs.some((leg) => leg.feature === one.id)).sort((a, b) => a.x_m - b.x_m);
}
