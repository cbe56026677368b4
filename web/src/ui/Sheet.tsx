/** A sheet laid over the drawing, beside the load path so that its figures stay in view. */
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useState, type ReactNode } from "react";

interface Props {
  title: string;
  onClose: () => void;
  children: ReactNode;
  /** Over the whole sheet; `table`: as wide as the screen lets it. */
  wide?: boolean | "table";
}

export function Sheet({ title, onClose, children, wide }: Props) {
  const place = wide
    ? `inset-x-4 top-14 mx-auto ${wide === "table" ? "bottom-4 max-w-[1220px]" : "max-h-[calc(100%-4.5rem)] max-w-3xl"}`
    : "top-12 bottom-[92px] left-0 w-full max-w-[430px] sm:left-[100px] border-r-2 border-b-2";
  const [opener] = useState(() => document.activeElement);
  useEffect(
    () => () => {
      // Focus goes back to what opened the sheet; where the choice took that away, to the work, so that keys reach it.
      setTimeout(() => {
        if (!opener?.isConnected) document.querySelector("main")?.focus();
      });
    },
    [opener],
  );
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      {wide ? <div className="fixed inset-0 bg-film/70" aria-hidden /> : null}
      <DialogPanel
        className={`fixed ${place} flex flex-col overflow-hidden border-ink bg-sheet shadow-xl ${wide ? "border-2" : ""}`}
      >
        <div className="flex items-center justify-between gap-3 border-b border-line py-2 pr-2 pl-4">
          <DialogTitle className="text-answer font-semibold">{title}</DialogTitle>
          <button type="button" className="button" onClick={onClose}>
            Close
          </button>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">{children}</div>
      </DialogPanel>
    </Dialog>
  );
}
