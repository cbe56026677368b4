/** The team's plans: open one, begin one, read one in from a file. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { answered, api, csrf, Refused } from "../../device/client";
import { newId } from "../../device/newId";
import type { Catalogue, Document, Fault, Plan, Session } from "../../api/types";
import { leave } from "../../device/leaving";
import { rested } from "../../device/opened";
import { useSettings } from "../../ui/settings";
import { faultsOf } from "../../ui/faults";
import { later } from "../../ui/later";
import { LastBackup } from "./LastBackup";
import { PlanRows } from "./PlanRows";

const NothingYet = later(async () => (await import("./NothingYet")).NothingYet, null);
const NewPlan = later(async () => (await import("./NewPlan")).NewPlan, null);

interface Props {
  session: Session;
  catalogue: Catalogue;
}

export function PlansPage({ session, catalogue }: Props) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [settings, set] = useSettings();
  const [making, setMaking] = useState(false);
  const [faults, setFaults] = useState<Fault[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const plans = useQuery({ queryKey: ["plans"], queryFn: async () => answered(await api.GET("/api/plans")) });
  useEffect(() => {
    if (plans.data) rested();
  }, [plans.data]);
  const team = session.teams.find((one) => one.role === "leader");

  const signOut = async () => {
    const nobody = { ...session, username: "", teams: [] };
    const now = (await leave()) ?? nobody;
    queries.removeQueries({ predicate: (one) => one.queryKey[0] !== "session" });
    queries.setQueryData(["session"], now);
  };

  const readIn = async (given: File) => {
    try {
      if (/\.zip$/i.test(given.name)) {
        const plan = await handedOver(given, team!.id);
        await queries.invalidateQueries({ queryKey: ["plans"] });
        void go(`/plans/${plan.id}/handover`);
        return;
      }
      if (given.size > 2_000_000)
        throw new Refused(413, [
          { path: given.name, problem: "larger than 2 MB", right: "choose a plan file: it takes a few kilobytes" },
        ]);
      let content;
      try {
        content = JSON.parse(await given.text()) as Document;
      } catch {
        throw new Refused(422, [
          {
            path: given.name,
            problem: "not JSON that can be read",
            right: "choose a plan file that Outrigger wrote, or one in its published schema",
          },
        ]);
      }
      const plan = answered(await api.POST("/api/plans/import", { body: { team: team!.id, id: newId(), content } }));
      await queries.invalidateQueries({ queryKey: ["plans"] });
      void go(`/plans/${plan.id}/lines`);
    } catch (error) {
      setFaults(faultsOf(error, "try again; the file is untouched"));
    }
  };

  const chosen = (input: HTMLInputElement) => {
    const one = input.files?.[0];
    // Emptied, so that choosing the same file again counts as a change.
    input.value = "";
    if (one) void readIn(one);
  };

  return (
    <main className="mx-auto max-w-5xl p-5">
      <header className="flex flex-wrap items-center gap-3 border-b-2 border-ink pb-4">
        <h1 className="mr-auto text-loud font-semibold">Plans</h1>
        <Link to="/reference" className="button flex items-center">
          Reference
        </Link>
        <Link to="/practice" className="button flex items-center">
          Practise
        </Link>
        {team ? (
          <Link to="/shelf" className="button flex items-center">
            Shelf
          </Link>
        ) : null}
        <Link to="/team" className="button flex items-center">
          {team ? "People" : "My sign-in"}
        </Link>
        <button type="button" className="button" onClick={() => set({ night: !settings.night })}>
          {settings.night ? "Day" : "Night"}
        </button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json,.zip,application/zip"
          className="sr-only"
          aria-label="Plan file"
          tabIndex={-1}
          onChange={(event) => chosen(event.target)}
        />
        {team ? (
          <>
            <button type="button" className="button" onClick={() => file.current?.click()}>
              Read in a file
            </button>
            <button type="button" className="button button-main" onClick={() => setMaking(true)}>
              New plan
            </button>
          </>
        ) : null}
        <button type="button" className="button" onClick={() => void signOut()}>
          Sign out {session.username}
        </button>
      </header>
      {faults.length ? (
        <ul role="alert" className="mt-3 border-l-4 border-over bg-tint p-3">
          {faults.slice(0, 8).map((fault) => (
            <li key={fault.path + fault.problem}>
              <b>◆ {fault.path}</b>: {fault.problem}; {fault.right}
            </li>
          ))}
        </ul>
      ) : null}
      {plans.data?.length === 0 ? (
        team ? (
          <NothingYet team={team} onNew={() => setMaking(true)} onFile={() => file.current?.click()} />
        ) : (
          <p className="mt-8 text-answer">No plan yet. A leader of your team can begin one.</p>
        )
      ) : null}
      {plans.isError ? (
        <p className="mt-8 text-answer text-over">
          ◆ The server can not be reached. Trying again when you come back to this page.
        </p>
      ) : null}
      {plans.data?.length ? <PlanRows plans={plans.data} /> : null}
      <p className="mt-8 max-w-3xl font-label text-quiet">{session.caution}</p>
      {making && team ? <NewPlan team={team} catalogue={catalogue} onClose={() => setMaking(false)} /> : null}
      {team ? <LastBackup /> : null}
    </main>
  );
}

/** A bundle read in: a plan with its run and its log, as somebody handed it over. */
async function handedOver(file: File, team: number): Promise<Plan> {
  const form = new FormData();
  form.set("team", String(team));
  form.set("file", file);
  const response = await fetch("/api/handover", { method: "POST", body: form, headers: { "X-CSRFToken": csrf() } });
  const content = (await response.json().catch(() => undefined)) as unknown;
  return answered<Plan>(response.ok ? { data: content as Plan, response } : { error: content, response });
}
