/** A choice worked out: what each would do here, best first, what does not fit with its reason. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { Choices, Document } from "../api/types";
import { useSettings } from "../app/settings";
import { Sheet } from "./Sheet";

export type What = Choices["what"];

const TITLE: Record<What, string> = {
  lowering: "What lowers",
  haul: "What raises",
  belay: "What catches",
};

interface Props {
  what: What;
  document: Document;
  chosen: string | null;
  onChoose: (id: string) => void;
  onClose: () => void;
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
  return (
    <Sheet title={TITLE[what]} onClose={onClose} wide>
      {found.data ? (
        <ul aria-label={TITLE[what]}>
          {found.data.choices.map((one) => (
            <li key={one.id} className="border-b border-line">
              <button
                type="button"
                className="grid min-h-[60px] w-full grid-cols-[minmax(0,15rem)_1fr] items-center gap-3 py-1.5 text-left hover:bg-film"
                onClick={() => {
                  onChoose(one.id);
                  onClose();
                }}
              >
                <span className="text-[17px] font-semibold">
                  {one.why_not.length ? "◇ " : "■ "}
                  {one.name}
                  {one.id === chosen ? (
                    <span className="ml-2 bg-ink px-1 font-label text-[14px] font-normal text-sheet">chosen</span>
                  ) : null}
                </span>
                <span className="font-label text-[16px]">
                  <span className="text-over">{one.does.join("; ")}</span>
                  {one.why_not.length ? <span className="block">{one.why_not.join("; ")}</span> : null}
                </span>
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <p role="status" className="text-lg">
          {found.isError
            ? "◆ These can not be worked out now; the plan has to be laid out first."
            : "Trying each of them."}
        </p>
      )}
    </Sheet>
  );
}
