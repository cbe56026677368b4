/** A value as it was when it last stood still for a while; one that has just begun is still. */
import { useEffect, useState } from "react";

export function useStill<T>(value: T, forMs: number): T {
  const [still, setStill] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setStill(value), forMs);
    return () => window.clearTimeout(timer);
  }, [value, forMs]);
  return still;
}
