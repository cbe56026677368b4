/** What there is to tie to: every candidate with its verdict, best first. */
import type { Catalogue, Document, FeatureReport } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { degrees, shown, spanned } from "../../ui/format";

export const VERDICTS: { id: "sound-alone" | "with-others" | "temporary" | "reject"; name: string; mark: string }[] = [
  { id: "sound-alone", name: "sound alone", mark: "■" },
  { id: "with-others", name: "use with others", mark: "◧" },
  { id: "temporary", name: "temporary", mark: "◇" },
  { id: "reject", name: "reject", mark: "✕" },
];

interface Props {
  document: Document;
  features: FeatureReport[];
  catalogue: Catalogue;
  canEdit: boolean;
  onOpen: (id: string) => void;
  onTie: (id: string) => void;
}

export function Candidates({ document, features, catalogue, canEdit, onOpen, onTie }: Props) {
  const [settings] = useSettings();
  const rows = [...features].sort((a, b) => a.rank - b.rank);
  return (
    <ul aria-label="Candidates, best first">
      {rows.map((row) => {
        const feature = document.features.find((one) => one.id === row.id);
        if (!feature) return null;
        const verdict = VERDICTS.find((one) => one.id === (feature.verdict ?? row.verdict));
        return (
          <li key={row.id} className="flex items-stretch border-b border-line" data-candidate={row.id}>
            <button
              type="button"
              onClick={() => onOpen(row.id)}
              className="grid min-h-[52px] min-w-0 flex-1 grid-cols-[1.4rem_minmax(0,1fr)_9.5rem] items-center gap-x-2 px-1 py-1 text-left hover:bg-film xl:grid-cols-[1.4rem_minmax(0,1fr)_8rem_9.5rem]"
            >
              <span className={`text-answer ${verdict?.id === "reject" ? "text-over" : ""}`} aria-hidden>
                {verdict?.mark ?? "?"}
              </span>
              <span className="min-w-0">
                <span className="block font-semibold">{feature.name}</span>
                <span className="block font-label text-note text-quiet">
                  {catalogue.features[feature.kind]?.name}, {shown(row.distance, settings).value} {settings.length} at{" "}
                  {degrees(row.bearing_rad)}
                  {row.loaded ? ", loaded" : ""}
                </span>
              </span>
              <span className="font-label text-base max-xl:hidden">
                {verdict ? verdict.name : "not judged"}
                {feature.verdict ? "" : verdict ? ", by inspection" : ""}
              </span>
              <span className="text-right">
                {row.holds ? (
                  <b className="text-answer text-over">{spanned(row.holds, settings)}</b>
                ) : (
                  <span className="font-label text-over">
                    {row.open_questions ? `${row.open_questions} to inspect` : "not known"}
                  </span>
                )}
              </span>
            </button>
            <button
              type="button"
              className="button my-1 ml-2 px-3 font-normal"
              disabled={!canEdit || feature.verdict === "reject"}
              onClick={() => onTie(row.id)}
              aria-label={`Tie a leg to ${feature.name}`}
            >
              + leg
            </button>
          </li>
        );
      })}
    </ul>
  );
}
