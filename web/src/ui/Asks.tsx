/** What a file does not say of itself: each question with the ways to answer it, one touch each; what has none is typed. */
import { useState } from "react";
import type { Ask } from "../api/types";
import { Choice } from "./fields";

interface Props {
  asks: Ask[];
  onSaid: (setting: string, value: string) => void;
  /** What can be offered besides, by the setting. */
  more?: Record<string, { value: string; label: string }[]>;
}

export function Asks({ asks, onSaid, more = {} }: Props) {
  return (
    <ul aria-label="Questions" className="mt-2">
      {asks.map((one) => (
        <Asked
          key={one.setting + one.question}
          ask={one}
          offers={[...one.offers, ...(more[one.setting] ?? [])]}
          onSaid={onSaid}
        />
      ))}
    </ul>
  );
}

function Asked({ ask, offers, onSaid }: { ask: Ask; offers: Ask["offers"]; onSaid: Props["onSaid"] }) {
  const [typed, setTyped] = useState("");
  const free = !ask.offers.length && ask.setting !== "columns";
  return (
    <li className="border-t border-line py-2 first:border-t-0">
      <p className="text-answer font-semibold">◇ {ask.question}</p>
      {offers.length > 6 ? (
        <Choice
          label="Which"
          value={null}
          options={offers.map((one) => ({ id: one.value, name: one.label }))}
          onChange={(value) => (value === null ? undefined : onSaid(ask.setting, value))}
        />
      ) : (
        <div className="mt-1 flex flex-wrap gap-2">
          {offers.map((one) => (
            <button
              key={one.value}
              type="button"
              className="button px-3"
              onClick={() => onSaid(ask.setting, one.value)}
            >
              {one.label}
            </button>
          ))}
          {free ? (
            <form
              className="flex min-w-64 flex-1 gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (typed.trim()) onSaid(ask.setting, typed.trim());
              }}
            >
              <input
                className="field min-w-0 flex-1"
                aria-label={ask.question}
                value={typed}
                onChange={(event) => setTyped(event.target.value)}
              />
              <button type="submit" className="button px-3">
                Say so
              </button>
            </form>
          ) : null}
        </div>
      )}
    </li>
  );
}
