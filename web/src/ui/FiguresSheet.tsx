/** Several figures, each opening its working. */
import type { Catalogue, Figure, Report } from "../api/types";
import { Sheet } from "./Sheet";
import { FigureWithWorking } from "./WorkingView";

interface Props {
  title: string;
  figures: (Figure | null | undefined)[];
  report: Pick<Report, "workings">;
  catalogue: Catalogue;
  onClose: () => void;
}

export function FiguresSheet({ title, figures, report, catalogue, onClose }: Props) {
  return (
    <Sheet title={title} onClose={onClose}>
      {figures.map((figure) => (figure ? <FigureWithWorking key={figure.working} figure={figure} report={report} catalogue={catalogue} /> : null))}
    </Sheet>
  );
}
