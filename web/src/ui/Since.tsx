/** What is being worked out, and for how long already: somebody who waits sees that it goes on. */
import { useEffect, useState } from "react";

/** Less than this is not worth a figure. */
const SOON_S = 2;

export function Since({ children }: { children: string }) {
  const [began] = useState(() => Date.now());
  const [now, setNow] = useState(began);
  useEffect(() => {
    const ticks = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(ticks);
  }, []);
  const seconds = Math.round((now - began) / 1000);
  return (
    <span>
      {children}
      {/* Counted for the eye alone: read out each second it would be noise. */}
      <span aria-hidden>{seconds >= SOON_S ? ` ${seconds} s so far.` : null}</span>
    </span>
  );
}
