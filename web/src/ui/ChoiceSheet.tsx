/** A choice worked out: everything side by side, best first, what does not fit with its reason; touching one chooses it. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../device/client";
import type { Choice, Choices, Document } from "../api/types";
import { useSettings } from "./settings";
import { unbroken } from "./format";
import { Sheet } from "./Sheet";
import { Since } from "./Since";

export type What = Choices["what"];

const TITLE: Record<What, string> = {
  lowering: "What lowers",
  haul: "What raises",
  belay: "What catches",
  brake: "What backs the device up",
  grab: "What grabs for the haul",
  capture: "What keeps the progress",
};

interface Props {
  what: What;
  document: Document;
  chosen: string | null;
  /** `others`: what else was on the screen, best first, with what each would have done. */
  onChoose: (choice: Choice, others: string) => void;
  onClose: () => void;
}

/** So many of the other choices are kept with a decision as considered. */
const CONSIDERED = 4;

function told(choice: Choice): string {
  const first = choice.facts[0];
  return choice.why_not.length
    ? `${choice.name} (${choice.why_not[0]})`
    : first
      ? `${choice.name} (${first.head}: ${first.text})`
      : choice.name;
}

export function ChoiceSheet({ what, document, chosen, onChoose, onClose }: Props) {
  const [{ force, length }] = useSettings();
  const found = useQuery({
    queryKey: ["choices", what, document, force, length],
    staleTime: Infinity,
    queryFn: async () =>
      answered(
        await api.POST("/api/choices", {
          body: document,
          params: { query: { what, force_unit: force, length_unit: length } },
        }),
      ),
  });
  const choices = found.data?.choices ?? [];
  const heads = choices.find((one) => one.facts.length)?.facts.map((fact) => fact.head) ?? [];
  const choose = (one: Choice) => {
    const others = choices.filter((other) => other.id !== one.id).slice(0, CONSIDERED);
    onChoose(one, others.map((other) => told(other)).join("; "));
    onClose();
  };
  return (
    <Sheet title={TITLE[what]} onClose={onClose} wide="table">
      {found.data?.note ? <p className="mb-2 font-label text-base leading-snug">{found.data.note}</p> : null}
      {found.data ? (
        <table className="w-full border-collapse text-left font-label text-base" aria-label={TITLE[what]}>
          <thead className="narrow:hidden">
            <tr className="border-b-2 border-ink align-bottom text-note leading-tight text-quiet">
              <th scope="col" className="py-1 pr-2 font-normal">
                best first
              </th>
              {heads.map((head) => (
                <th key={head} scope="col" className="px-2 py-1 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {choices.map((one) => (
              <tr
                key={one.id}
                className="cursor-pointer border-b border-line align-top hover:bg-film narrow:grid narrow:grid-cols-2"
                onClick={() => choose(one)}
              >
                <th scope="row" className="w-[23rem] py-1 pr-3 font-normal narrow:col-span-2 narrow:w-auto">
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center text-left font-sans text-body leading-tight font-semibold"
                    aria-describedby={`why-${one.id}`}
                    onClick={(event) => {
                      event.stopPropagation();
                      choose(one);
                    }}
                  >
                    <span>
                      {one.why_not.length ? "◇ " : "■ "}
                      {one.name}
                      {one.id === chosen ? (
                        <span className="ml-2 bg-ink px-1 font-label text-mark font-normal text-sheet">chosen</span>
                      ) : null}
                    </span>
                  </button>
                  <span id={`why-${one.id}`} className="block leading-snug">
                    {one.why_not.length ? unbroken(one.why_not.join("; ")) : null}
                    {one.look ? <span className="block text-note text-quiet">Look: {one.look}</span> : null}
                  </span>
                </th>
                {one.facts.length
                  ? one.facts.map((fact, index) => (
                      <td key={fact.head} className={`px-2 py-2.5 leading-tight ${index === 0 ? "text-over" : ""}`}>
                        <span className="text-quiet roomy:hidden">{fact.head}: </span>
                        {index === 0 ? <b>{unbroken(fact.text)}</b> : unbroken(fact.text)}
                      </td>
                    ))
                  : heads.map((head) => <td key={head} className="px-2 py-2.5 narrow:hidden" />)}
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p role="status" className="text-answer">
          {found.isError ? (
            "◆ These can not be worked out now; the plan has to be laid out first."
          ) : (
            <Since>Trying each of them.</Since>
          )}
        </p>
      )}
    </Sheet>
  );
}
