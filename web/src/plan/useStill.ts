/** A value as it was when it last stood still for a while; one that has just begun is still, unless it is `waited` for. */
import { useEffect, useState } from "react";

export function useStill<T>(value: T, forMs: number): T;
export function useStill<T>(value: T, forMs: number, waited: boolean): T | null;
export function useStill<T>(value: T, forMs: number, waited = false): T | null {
  const [still, setStill] = useState<T | null>(waited ? null : value);
  useEffect(() => {
    const timer = window.setTimeout(() => setStill(value), forMs);
    return () => window.clearTimeout(timer);
  }, [value, forMs]);
  return still;
}
