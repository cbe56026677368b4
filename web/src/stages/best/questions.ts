/** What a leader asks of the bags beyond what is in them. */
import type { Document } from "../../api/types";

export interface Question {
  id: string;
  name: string;
  asks: { without?: string; people?: number; no_good?: string; one_more?: string };
}

/** The pulley that is asked for when one more would be there. */
const PULLEY = "ball-bearing-pulley";

export function questionsOf(document: Document): Question[] {
  const there = document.team.haulers;
  const tied = new Set(
    document.anchors.flatMap((anchor) =>
      anchor.alternatives.filter((one) => one.id === anchor.taken).flatMap((one) => one.legs.map((leg) => leg.feature)),
    ),
  );
  return [
    { id: "", name: "nothing: the bags and people as they are", asks: {} },
    ...(document.bags?.packed ?? []).map((bag) => ({
      id: `without:${bag.name}`,
      name: `without ${bag.name}`,
      asks: { without: bag.name },
    })),
    ...(there > 0 ? [{ id: "one-less", name: "one less to haul", asks: { people: there - 1 } }] : []),
    { id: "one-more", name: "one more to haul", asks: { people: there + 1 } },
    { id: "pulley", name: "one more ball-bearing pulley", asks: { one_more: PULLEY } },
    ...document.features
      .filter((one) => tied.has(one.id))
      .map((one) => ({ id: `no:${one.id}`, name: `${one.name} is no good`, asks: { no_good: one.id } })),
  ];
}
