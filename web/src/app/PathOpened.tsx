/** The load path opened, or what buys most in its place. */
import { LoadPath } from "../ladder/LoadPath";
import { BuysMost } from "../stages/lines/BuysMost";
import type { OnSheet } from "./useSheet";

interface Props {
  sheet: OnSheet;
  best: boolean;
  onBest: (shown: boolean) => void;
  onClose: () => void;
}

export function PathOpened({ sheet, best, onBest, onClose }: Props) {
  const { state, whole, findings } = sheet;
  if (best)
    return (
      <BuysMost
        open={sheet.open}
        lowers={state?.group === "lower"}
        onClose={() => onBest(false)}
        onMade={sheet.decided.consider}
      />
    );
  if (!state || !whole) return null;
  return (
    <>
      <LoadPath
        state={state}
        rule={whole.rule}
        findings={findings}
        onRung={(rung) => sheet.touch({ what: "rung", id: rung.id })}
        onBest={sheet.stage === "lines" && sheet.runs ? () => onBest(true) : null}
        onClose={onClose}
      />
      <p className="border-t border-line px-4 py-2 font-label text-note text-quiet">{sheet.caution}</p>
    </>
  );
}
