/** What the gear went through: each piece with its highest load, shock, edges and minutes, what should become of it and why; gone through
 * with the piece in hand, and signed. */
import { HowTied } from "../../ui/HowTied";
import { useParams } from "react-router";
import type { Gear, GearPiece } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { clock } from "../../ui/format";
import { AfterFrame } from "./AfterFrame";
import { useGear, useMarks, useSigning, type Marked } from "./useGear";

type Fate = GearPiece["becomes"];
type Marks = ReturnType<typeof useMarks>;
const FATES: { id: Fate; mark: string; head: string; say: string }[] = [
  { id: "retire", mark: "◆", head: "To retire", say: "retire" },
  { id: "rest", mark: "◇", head: "To rest", say: "rest" },
  { id: "inspect", mark: "□", head: "To inspect", say: "inspect" },
  { id: "bag", mark: "■", head: "Back into the bag", say: "bag" },
];

export function GearPage() {
  const { id = "" } = useParams();
  const gear = useGear(id);
  return (
    <AfterFrame plan={id} here="gear" title="What the gear went through">
      {gear.data ? (
        <Listed plan={id} gear={gear.data} />
      ) : (
        <main className="p-8 text-answer">{gear.error ? `◆ ${saidOf(gear.error)}` : "Opening."}</main>
      )}
    </AfterFrame>
  );
}

const saidOf = (fault: Error) => wrongOf(fault, "No connection: sign when it is back. Your marks stay here.");

/** How many of each, as a sentence. */
export function summary(gear: Gear): string {
  const becomes = gear.report.pieces.map((one) => (gear.signed[one.id] ?? one).becomes);
  const counts = FATES.map(({ id, head }) => [becomes.filter((one) => one === id).length, head.toLowerCase()] as const);
  const words = counts.filter(([count]) => count).map(([count, head]) => `${count} ${head}`);
  const signed = gear.report.pieces.filter((one) => gear.signed[one.id]).length;
  const left = gear.report.pieces.length - signed;
  const state = !signed ? "not signed yet" : left ? `${signed} signed, ${left} not` : "all signed";
  return words.length ? `${words.join(", ")}; ${state}.` : "Nothing was loaded yet.";
}

function Listed({ plan, gear }: { plan: string; gear: Gear }) {
  const marks = useMarks(plan);
  const signing = useSigning(plan, marks);
  const looked = gear.report.pieces.filter((one) => marks.of(one).looked);
  return (
    <main tabIndex={-1} className="flex min-h-0 flex-col">
      <div className="min-h-0 flex-1 overflow-y-auto px-4 pt-2 pb-6">
        <p className="text-answer" data-testid="gear-summary">
          {summary(gear)}
        </p>
        <p className="max-w-[70ch] font-label text-quiet">
          Worked out from the steps of the run and what cells read. It proposes: you have the piece in hand. Makers'
          limits and your team's rules come first.
        </p>
        {FATES.map(({ id, mark, head }) => {
          // What somebody signed counts more than what is proposed.
          const pieces = gear.report.pieces.filter((one) => (gear.signed[one.id] ?? one).becomes === id);
          const open = pieces.filter((one) => !marks.of(one).looked && !gear.signed[one.id]);
          return pieces.length ? (
            <section key={id} aria-label={head} className="mt-3" data-fate={id}>
              <div className="flex flex-wrap items-center gap-x-4 border-b-2 border-ink">
                <h2 className="mr-auto text-answer font-semibold">
                  <span aria-hidden className={id === "retire" ? "text-over" : ""}>
                    {mark}
                  </span>{" "}
                  {head}
                </h2>
                {gear.signs && id === "bag" && open.length > 1 ? (
                  <button
                    type="button"
                    className="min-h-11 underline"
                    onClick={() => marks.mark(open, { looked: true })}
                  >
                    All {open.length} looked at
                  </button>
                ) : null}
              </div>
              <ul>
                {pieces.map((piece) => (
                  <Piece key={piece.id} piece={piece} gear={gear} marks={gear.signs ? marks : null} />
                ))}
              </ul>
            </section>
          ) : null;
        })}
      </div>
      {gear.signs && looked.length ? (
        <div className="flex flex-wrap items-center gap-3 border-t-2 border-ink bg-film px-4 py-1.5">
          <p role={signing.error ? "alert" : "status"} className="min-w-0 flex-1 text-body">
            {signing.error
              ? `◆ ${saidOf(signing.error)}.`
              : `${looked.length} of ${gear.report.pieces.length} looked at. You sign for what you had in hand.`}
          </p>
          <button
            type="button"
            className="button button-main"
            disabled={signing.isPending}
            onClick={() => signing.mutate(looked)}
          >
            Sign {looked.length} {looked.length === 1 ? "piece" : "pieces"}
          </button>
        </div>
      ) : null}
    </main>
  );
}

function Piece({ piece, gear, marks }: { piece: GearPiece; gear: Gear; marks: Marks | null }) {
  const marked = marks?.of(piece);
  const signed = gear.signed[piece.id];
  const change = (changed: Partial<Marked>) => marks?.mark([piece], changed);
  return (
    <li className="border-b border-line py-1.5" data-piece={piece.id}>
      <div className="flex flex-wrap items-start gap-x-4">
        <div className="min-w-[16rem] flex-1">
          <h3 className="text-body leading-snug font-semibold">{piece.name}</h3>
          <HowTied drawn={piece.drawn} />
          <p className="leading-snug">
            {piece.highest_n.high > 0 ? (
              <>
                <span className="text-over tabular-nums">{piece.highest_text}</span> at most,{" "}
                {piece.measured ? "read" : "worked out"}; bore for {minutes(piece.loaded_min)}
              </>
            ) : (
              "Hung ready, bore nothing"
            )}
            ; {piece.holds_text.startsWith("slips") ? "" : "holds "}
            {piece.holds_text}
            {piece.edges.map((one) => `; ${one}`)}
          </p>
          {piece.why.map((one) => (
            <p key={one} className="leading-snug font-semibold">
              {one}
            </p>
          ))}
          {piece.unsaid.length ? <p className="font-label text-quiet">not said: {piece.unsaid.join(", ")}</p> : null}
          {signed ? (
            <p className="leading-snug" data-testid="gear-signed">
              ■ {signed.by} {clock(signed.at)}: {signed.found}
            </p>
          ) : null}
        </div>
        {marks && marked ? (
          <button
            type="button"
            aria-pressed={marked.looked}
            className={`button ${marked.looked ? "button-main" : ""}`}
            onClick={() => change({ looked: !marked.looked })}
          >
            {marked.looked ? "Looked at" : signed ? "Look again" : "Look at it"}
          </button>
        ) : null}
      </div>
      {marks && marked?.looked ? <Found piece={piece} seen={gear.seen} marked={marked} onChange={change} /> : null}
    </li>
  );
}

function minutes(one: number): string {
  return one >= 1 ? `${Math.round(one)} min` : "under 1 min";
}

interface FoundProps {
  piece: GearPiece;
  seen: Gear["seen"];
  marked: Marked;
  onChange: (changed: Partial<Marked>) => void;
}

/** What was found with the piece in hand: what is seen on it, what becomes of it, a word more. */
function Found({ piece, seen, marked, onChange }: FoundProps) {
  const order = FATES.map((one) => one.id);
  const wantsWhy = order.indexOf(marked.becomes) > order.indexOf(piece.becomes) && !marked.note.trim();
  const toggle = (one: Gear["seen"][number]) =>
    onChange({
      seen: marked.seen.includes(one) ? marked.seen.filter((other) => other !== one) : [...marked.seen, one],
    });
  return (
    <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 border-ink pl-3">
      <Choices
        label={`Becomes of ${piece.name}`}
        head="becomes"
        all={FATES.map(({ id, say }) => [id, say] as const)}
        on={[marked.becomes]}
        onTouch={(becomes) => onChange({ becomes })}
      />
      <Choices
        label={`Seen on ${piece.name}`}
        head="seen"
        all={seen.map((one) => [one, one] as const)}
        on={marked.seen}
        onTouch={toggle}
      />
      <label className="flex min-w-[14rem] flex-1 items-center gap-2">
        <span className="font-label text-quiet">{wantsWhy ? "say why" : "a word more"}</span>
        <input
          className="field"
          value={marked.note}
          maxLength={2000}
          aria-invalid={wantsWhy}
          onChange={(event) => onChange({ note: event.target.value })}
        />
      </label>
    </div>
  );
}

function Choices<T extends string>({
  label,
  head,
  all,
  on,
  onTouch,
}: {
  label: string;
  head: string;
  all: (readonly [T, string])[];
  on: T[];
  onTouch: (one: T) => void;
}) {
  return (
    <div role="group" aria-label={label} className="flex flex-wrap items-center gap-x-1">
      <span aria-hidden className="mr-1 font-label text-quiet">
        {head}
      </span>
      {all.map(([id, say]) => (
        <button
          key={id}
          type="button"
          aria-pressed={on.includes(id)}
          className={`min-h-11 min-w-11 px-2 ${on.includes(id) ? "bg-ink font-semibold text-sheet" : "underline"}`}
          onClick={() => onTouch(id)}
        >
          {say}
        </button>
      ))}
    </div>
  );
}
