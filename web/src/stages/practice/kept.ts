/** What this device keeps of practice: drills fetched ahead, what was last known, answers that wait to be sent. Nothing of a plan. */
import type { Drill, Practice, PracticeAnswer } from "../../api/types";
import { newId } from "../../device/newId";

interface Kept {
  device: string;
  number: number;
  ahead: Drill[];
  known: Practice | null;
  waiting: PracticeAnswer[];
}

const EMPTY = { number: 0, ahead: [], known: null, waiting: [] };

function place(me: string) {
  return `outrigger:practice:${me}`;
}

export function keptBy(me: string): Kept {
  try {
    const found = JSON.parse(localStorage.getItem(place(me)) ?? "null") as Partial<Kept> | null;
    return { ...EMPTY, device: newId(), ...found };
  } catch {
    return { ...EMPTY, device: newId() };
  }
}

/** Kept anew; a device without room keeps what waits, and fetches drills when it needs them. */
export function keep(me: string, change: (old: Kept) => Partial<Kept>): Kept {
  const old = keptBy(me);
  const next = { ...old, ...change(old) };
  for (const one of [next, { ...next, ahead: [], known: null }]) {
    try {
      localStorage.setItem(place(me), JSON.stringify(one));
      break;
    } catch {
      continue;
    }
  }
  return next;
}
