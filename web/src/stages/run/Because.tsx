/** Something that is done with a reason, which stands in the log under the name of whoever does it. */
import { useState, type ReactNode } from "react";
import { Sheet } from "../../ui/Sheet";

interface Props {
  title: string;
  children: ReactNode;
  /** What each button says and does, the usual one first. */
  does: [string, (reason: string) => void][];
  onClose: () => void;
}

export function Because({ title, children, does, onClose }: Props) {
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
      <div className="mt-3 flex flex-wrap gap-2">
        {does.map(([label, act], number) => (
          <button
            key={label}
            type="button"
            className={number ? "button" : "button button-main"}
            disabled={!said}
            onClick={() => act(said)}
          >
            {label}
          </button>
        ))}
      </div>
    </Sheet>
  );
}
