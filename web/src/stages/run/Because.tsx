/** Something that is done with a reason, which stands in the log under the name of whoever does it. */
import { useState, type ReactNode } from "react";
import { Sheet } from "../../ui/Sheet";

interface Props {
  title: string;
  /** What the button says. */
  does: string;
  children: ReactNode;
  onDo: (reason: string) => void;
  onClose: () => void;
}

export function Because({ title, does, children, onDo, onClose }: Props) {
  const [reason, setReason] = useState("");
  const said = reason.trim();
  return (
    <Sheet title={title} onClose={onClose} wide>
      {children}
      <label className="mt-3 flex items-center gap-2">
        <span className="font-semibold">because</span>
        <input
          className="field flex-1"
          value={reason}
          maxLength={2000}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <button type="button" className="button button-main mt-3" disabled={!said} onClick={() => onDo(said)}>
        {does}
      </button>
    </Sheet>
  );
}
