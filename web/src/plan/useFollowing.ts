/**
 * An answer that follows what is asked. One question is under way at a time; when its answer comes, the newest question
 * is asked. So figures follow a dragged finger, and an answer never replaces one to a newer question.
 */
import { useEffect, useRef, useState } from "react";
import { Refused, RETRY_MS } from "../device/client";
import type { Fault } from "../api/types";

export function useFollowing<T>(ask: () => Promise<T>): { answer: T | null; faults: Fault[] } {
  const [answer, setAnswer] = useState<T | null>(null);
  const [faults, setFaults] = useState<Fault[]>([]);
  const wanted = useRef<() => Promise<void>>(async () => {});
  const asking = useRef(false);
  useEffect(() => {
    let retry = 0;
    let over = false;
    const run = async () => {
      if (asking.current) return;
      asking.current = true;
      const mine = wanted.current;
      try {
        await mine();
      } finally {
        asking.current = false;
        if (wanted.current !== mine) void run();
      }
    };
    wanted.current = async () => {
      try {
        setAnswer(await ask());
        setFaults([]);
      } catch (error) {
        if (error instanceof Refused) setFaults(error.faults);
        else if (!over) retry = window.setTimeout(() => void run(), RETRY_MS);
      }
    };
    void run();
    return () => {
      over = true;
      window.clearTimeout(retry);
    };
  }, [ask]);
  return { answer, faults };
}
