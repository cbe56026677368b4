/** Every key in one sheet. */
import { Sheet } from "./Sheet";

const LIST: [string, string][] = [
  ["1 2 3 4", "Hold, lower, raise, a line goes; the same key again: the next state of the group"],
  ["d", "Write a decision; Enter records it, Escape leaves it"],
  [
    "Control z",
    "Undo the last change of the plan; Control Shift z: do it again; on glass: a tap of two fingers, and of three",
  ],
  ["w", "The whole way, and back; there: Left and Right on the slider"],
  ["b", "What buys most, and back to the load path"],
  ["q", "Ask the plan: what everybody asks the leader, for the moment that is shown"],
  ["p", "The load path opened, and back to its margin"],
  ["s, a, l, o, c, r, g", "Size-up, Anchors, Lines, the best rigs out of the bags, Check, Run, Log"],
  ["Enter, Backspace, e, x", "On the run: step done, step back, something else happened, STOP"],
  ["Tab", "From part to part of the drawing and the load path"],
  ["Enter or Space", "Open the part: what it is, what it carries, what can be done there"],
  [
    "Arrow keys",
    "Move the load, a ground point, an edge, a feature or the working point; turn the pull; with Shift in long steps",
  ],
  ["+ − 0", "On a part of the section: nearer, further, the whole"],
  ["Arrow keys on a drawer", "Draw it up or down; Home: down, End: up"],
  ["Escape", "Leave a field, close a sheet"],
  ["?", "This list"],
];

export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys" onClose={onClose} wide>
      <dl className="text-body leading-snug">
        {LIST.map(([key, what]) => (
          <div key={key} className="grid grid-cols-[10rem_1fr] py-0.5">
            <dt className="font-semibold">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}
