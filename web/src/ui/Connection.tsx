/** How this device stands with the server: what waits here, and what a reload without a connection would do. */
import { useState } from "react";
import { keepsPage } from "../device/keepsPage";
import { Sheet } from "./Sheet";

interface Props {
  connected: boolean;
  waiting: number;
}

export function Connection({ connected, waiting }: Props) {
  const [open, show] = useState(false);
  const said = waiting
    ? `◆ ${waiting} not sent yet, kept on this device`
    : connected
      ? "all sent"
      : "◆ No connection: what others do is not seen here";
  return (
    <>
      <div role="status" className="mr-auto" data-live={connected && !waiting ? "sent" : "waiting"}>
        <button type="button" className="min-h-11 text-left font-label leading-tight" onClick={() => show(true)}>
          {said}
          {connected || keepsPage() ? null : <b className="block text-over">Do not reload this page now</b>}
        </button>
      </div>
      {open ? (
        <Sheet title="Connection and this device" onClose={() => show(false)} wide>
          <ul className="flex list-disc flex-col gap-2 pl-5 text-answer">
            <li>
              {connected
                ? "Connected: what others do is seen here."
                : "No connection to the server. It is tried again every two seconds."}
            </li>
            <li>
              {waiting
                ? `${waiting} done here and not sent yet. They go out in order, once, under your name.`
                : "Everything done here is with the server."}
            </li>
            {keepsPage() ? (
              <li>This page opens without a connection too: reloaded, or after the browser was closed.</li>
            ) : (
              <li>
                This page came in without encryption from another machine, and the browser keeps no page for that. It
                goes on working as long as it is open; <b>a reload needs the connection</b>. What is not sent stays on
                this device.
                <br />
                To have the page itself kept, the server is started with the team&apos;s own certificate (make demo
                HTTPS=1). It then tells an address where phones take the certificate and check its print; after that,
                open this page by https.
              </li>
            )}
          </ul>
        </Sheet>
      ) : null}
    </>
  );
}
