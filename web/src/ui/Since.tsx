/** What is being worked out, how far it has come and for how long already: somebody who waits sees that it goes on. */
import { useEffect, useState } from "react";
import { api } from "../device/client";

/** Less than this is not worth a figure. */
const SOON_S = 2;
const ASKS_MS = 700;

interface Props {
  children: string;
  /** The id under which the server knows what is asked, where it tells how far it has come. */
  doing?: string | undefined;
}

export function Since({ children, doing }: Props) {
  const [began] = useState(() => Date.now());
  const [now, setNow] = useState(began);
  const [come, setCome] = useState({ done: 0, of: 0 });
  useEffect(() => {
    const ticks = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(ticks);
  }, []);
  useEffect(() => {
    if (!doing) return;
    const asks = window.setInterval(() => {
      void api
        .GET("/api/doing/{id}", { params: { path: { id: doing } } })
        .then(({ data }) => data && setCome(data))
        .catch(() => null);
    }, ASKS_MS);
    return () => window.clearInterval(asks);
  }, [doing]);
  const seconds = Math.round((now - began) / 1000);
  return (
    <span>
      {children}
      {/* Counted for the eye alone: read out each second it would be noise. */}
      <span aria-hidden data-testid="come">
        {come.of ? ` ${come.done} of ${come.of}.` : null}
        {seconds >= SOON_S ? ` ${seconds} s so far.` : null}
      </span>
    </span>
  );
}
