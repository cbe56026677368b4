/** What was done to a document, to be undone and done again: a movement of the finger, or a word typed, is one step. */

/** Edits so shortly after one another belong together. */
export const TOGETHER_MS = 600;
const MOST = 200;

export interface History<T> {
  past: T[];
  future: T[];
  /** When the last edit was. */
  at: number;
}

export const NO_HISTORY = { past: [], future: [], at: -Infinity };

/** An edit of `before` at a time, in ms. */
export function did<T>(history: History<T>, before: T, at: number): History<T> {
  const goesOn = history.past.length > 0 && !history.future.length && at - history.at < TOGETHER_MS;
  const past = goesOn ? history.past : [...history.past, before].slice(-MOST);
  return { past, future: [], at };
}

/** One step back from `now`: the history then, and where it leads; null where there is none. */
export function back<T>(history: History<T>, now: T): [History<T>, T] | null {
  const to = history.past.at(-1);
  if (to === undefined) return null;
  return [{ past: history.past.slice(0, -1), future: [now, ...history.future], at: -Infinity }, to];
}

/** One step on again. */
export function on<T>(history: History<T>, now: T): [History<T>, T] | null {
  const [to, ...future] = history.future;
  if (to === undefined) return null;
  return [{ past: [...history.past, now], future, at: -Infinity }, to];
}
