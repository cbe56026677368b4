/** The whole way looked at: whether it is, at which of its places, or along which tension line. */
import { useState } from "react";

export interface OnWay {
  on: boolean;
  place: number;
  /** Where the load is, in metres up from its start; null along a tension line. */
  run: number | null;
  tight: string | null;
  turn: (on: boolean) => void;
  /** Where to go as soon as the way is there, in metres up from its start. */
  sought: number | null;
  seek: (run: number) => void;
  goTo: (place: number, run: number | null) => void;
  /** Along a tension line, or back to the load's own way. */
  along: (line: string | null) => void;
}

/** `only`: the tension line that the load hangs on where it hangs on no line of its own; it is always looked along. */
export function useOnWay(stage: string, only: string | null): OnWay {
  const [shown, show] = useState(false);
  const [place, setPlace] = useState(0);
  const [run, setRun] = useState<number | null>(null);
  const [chosen, setTight] = useState<string | null>(null);
  const tight = chosen ?? only;
  const [sought, setSought] = useState<number | null>(null);
  const begin = (on: boolean, line: string | null) => {
    setTight(line);
    show(on);
    setPlace(0);
    setRun(on && !line ? 0 : null);
  };
  return {
    on: (shown || only !== null) && stage === "lines",
    place,
    run: tight ? null : run,
    tight,
    turn: (on) => begin(on, null),
    sought,
    seek: (run_m) => {
      begin(true, null);
      setSought(run_m);
    },
    goTo: (to, run_m) => {
      setSought(null);
      setPlace(to);
      setRun(run_m);
    },
    along: (line) => begin(true, line),
  };
}
