/** A page whose script comes when it is opened. It is shown as soon as it is there: React's own way holds back for a third of a second what
 * follows a page that says "Opening". */
import { useEffect, useState, type ComponentType, type ReactNode } from "react";
import { RETRY_MS } from "../api/client";

export function later<P extends object>(
  load: () => Promise<ComponentType<P>>,
  meanwhile: ReactNode = <p className="p-8 text-lg">Opening.</p>,
): ComponentType<P> {
  let known: ComponentType<P> | null = null;
  return function Later(props: P) {
    const [Page, set] = useState(() => known);
    useEffect(() => {
      if (known) return;
      let timer = 0;
      const open = () =>
        load().then(
          (one) => {
            known = one;
            set(() => one);
          },
          // No connection, and the browser does not have it yet.
          () => (timer = window.setTimeout(open, RETRY_MS)),
        );
      void open();
      return () => window.clearTimeout(timer);
    }, []);
    return Page ? <Page {...props} /> : meanwhile;
  };
}
