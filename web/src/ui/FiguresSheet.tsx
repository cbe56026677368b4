/** Several figures, each opening its working. */
import type { Figure } from "../api/types";
import { Sheet } from "./Sheet";
import { FigureWithWorking } from "./WorkingView";

export type Labelled = [string, Figure | null | undefined];

export function Figures({ figures, first = false }: { figures: Labelled[]; first?: boolean }) {
  return figures.flatMap(([label, figure], index) =>
    figure
      ? [<FigureWithWorking key={figure.working} figure={figure} label={label} open={first && index === 0} />]
      : [],
  );
}

export function FiguresSheet({ title, figures, onClose }: { title: string; figures: Labelled[]; onClose: () => void }) {
  return (
    <Sheet title={title} onClose={onClose}>
      <Figures figures={figures} />
    </Sheet>
  );
}
