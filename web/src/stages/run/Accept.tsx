/** It hangs on one thing: said, and accepted by somebody with a reason before the run goes on. */
import { useState } from "react";
import type { Step } from "../../api/types";
import { Sheet } from "../../ui/Sheet";

const REASONS = [
  "one rope is what we have",
  "for this step only, looked at by two",
  "the anchor was loaded and watched before",
];

export function Accept({
  step,
  onAccept,
  onClose,
}: {
  step: Step;
  onAccept: (reason: string) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState("");
  return (
    <Sheet title="It hangs on one thing" onClose={onClose} wide>
      <p className="text-head leading-snug">
        ◆ Without {step.holds.alone.length > 1 ? "any one of these" : "this"} it falls:{" "}
        <b>{step.holds.alone.join(", ")}</b>.
      </p>
      <p className="mt-2 text-answer">
        Put something behind it, or accept it with a reason; it stands in the log under your name.
      </p>
      <div className="mt-3 grid gap-2">
        {REASONS.map((one) => (
          <button
            key={one}
            type="button"
            className="button min-h-14 text-left text-answer whitespace-normal"
            onClick={() => onAccept(one)}
          >
            because {one}
          </button>
        ))}
      </div>
      <form
        className="mt-3 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) onAccept(text.trim());
        }}
      >
        <label className="flex flex-1 items-center gap-2">
          <span className="font-semibold">because</span>
          <input className="field" value={text} maxLength={2000} onChange={(event) => setText(event.target.value)} />
        </label>
        <button type="submit" className="button button-main" disabled={!text.trim()}>
          Accept
        </button>
      </form>
    </Sheet>
  );
}
