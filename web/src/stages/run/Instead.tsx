/** What is done instead of the section that is now, if it does not come: entered by the leader, and the plan has it from then on. */
import { useState } from "react";
import type { Operation, Run } from "../../api/types";
import { Because } from "./Because";
import type { LiveRun } from "./useRun";

export function Instead({ run, operation, live }: { run: Run; operation: Operation; live: LiveRun }) {
  const here = operation.sections.find((one) => one.steps.includes(run.at));
  const ways = operation.sections
    .filter((one) => one.place === here?.place)
    .flatMap((one) => one.instead)
    .filter((one) => !one.refused);
  const [entering, enter] = useState<string | null>(null);
  const way = ways.find((one) => one.id === entering);
  return (
    <>
      {ways.map((one) => (
        <button
          key={one.id}
          type="button"
          className="button mt-2 min-h-14 w-full text-left leading-tight whitespace-normal"
          disabled={run.status !== "going"}
          onClick={() => enter(one.id)}
        >
          <span className="block font-label font-normal text-quiet">if {one.when}</span>
          <span className="block text-answer">{one.name} …</span>
        </button>
      ))}
      {way ? (
        <Because
          title={way.name}
          does={[
            [
              "Go on with this",
              (text) => {
                live.act({ act: "enter", at: run.at, text, data: { branch: way.id } });
                enter(null);
              },
            ],
          ]}
          onClose={() => enter(null)}
        >
          <ol className="list-decimal pl-6 text-answer leading-snug">
            {way.steps.map((one) => (
              <li key={one.key} className="py-0.5">
                {one.do}{" "}
                <span className="font-label text-quiet">
                  then on {one.holds.on_text.toLowerCase()}
                  {one.hands ? `; ${one.hands.needed} to pull` : ""}
                </span>
              </li>
            ))}
          </ol>
        </Because>
      ) : null}
    </>
  );
}
