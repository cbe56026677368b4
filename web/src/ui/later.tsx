/** A page whose script comes when it is opened. It is shown as soon as it is there: React's own way holds back for a third of a second what
 * follows a page that says "Opening". */
import { useEffect, useState, type ComponentType, type ReactNode } from "react";
import { RETRY_MS } from "../device/client";

/** A script that comes as soon as there is a connection. */
export async function fetched<T>(load: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await load();
    } catch {
      // No connection, and the browser does not have it yet.
      await new Promise((again) => window.setTimeout(again, RETRY_MS));
    }
  }
}

export function later<P extends object>(
  load: () => Promise<ComponentType<P>>,
  meanwhile: ReactNode = <p className="p-8 text-answer">Opening.</p>,
): ComponentType<P> {
  let known: ComponentType<P> | null = null;
  return function Later(props: P) {
    const [Page, set] = useState(() => known);
    useEffect(() => {
      if (known) return;
      let over = false;
      void fetched(load).then((one) => {
        known = one;
        if (!over) set(() => one);
      });
      return () => {
        over = true;
      };
    }, []);
    return Page ? <Page {...props} /> : meanwhile;
  };
}
