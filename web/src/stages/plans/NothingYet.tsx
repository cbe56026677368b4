/** A team that has no plan yet: begin one, open an invented one, or read one in. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../device/client";
import { newId } from "../../device/newId";
import type { Document, Team } from "../../api/types";
import { NotReached } from "../../ui/NotReached";

interface Props {
  team: Team;
  onNew: () => void;
  onFile: () => void;
}

export function NothingYet({ team, onNew, onFile }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [failed, fail] = useState(false);
  const examples = useQuery({
    queryKey: ["examples"],
    queryFn: async () => answered(await api.GET("/api/examples")),
    staleTime: Infinity,
  });
  const open = async (document: Document) => {
    fail(false);
    try {
      const made = answered(await api.POST("/api/plans", { body: { team: team.id, id: newId(), document } }));
      await queries.invalidateQueries({ queryKey: ["plans"] });
      void go(`/plans/${made.id}/lines`);
    } catch {
      fail(true);
    }
  };
  return (
    <section aria-label="No plan yet" className="mt-8 max-w-3xl">
      <p className="text-answer">{team.name} has no plan yet.</p>
      <div className="mt-3 flex flex-wrap gap-3">
        <button type="button" className="button button-main min-h-14 px-6" onClick={onNew}>
          Begin one from its scene
        </button>
        <button type="button" className="button min-h-14 px-6" onClick={onFile}>
          Read one in from a file
        </button>
      </div>
      {examples.data?.length ? (
        <>
          <h2 className="mt-6 font-label text-quiet">Or open one that was invented to practise with</h2>
          <ul>
            {examples.data.map((one) => (
              <li key={one.id} className="border-b border-line">
                <button
                  type="button"
                  className="flex min-h-14 w-full flex-col justify-center text-left hover:bg-sheet"
                  onClick={() => void open(one.document)}
                >
                  <span className="text-answer font-semibold">{one.document.title}</span>
                  <span className="font-label text-quiet">{one.document.place}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {failed ? <NotReached /> : null}
    </section>
  );
}
