/** Size of an element in CSS pixels, followed as it changes. */
import { useEffect, useRef, useState } from "react";

export function useSize<T extends Element>() {
  const ref = useRef<T>(null);
  const [size, set] = useState({ width: 800, height: 300 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) set({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [ref, size] as const;
}
