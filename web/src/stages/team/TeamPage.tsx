/** The team: who is in it, in what role; a link lets one person in once, with a password of their own. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { answered, api } from "../../device/client";
import type { Session, Team } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { Choice } from "../../ui/fields";
import { clock } from "../../ui/format";
import { Wrong } from "../../ui/Wrong";
import { OwnPassword } from "./OwnPassword";
import { WhoCameIn } from "./WhoCameIn";

type Role = Team["role"];
const ROLES: { id: Role; name: string }[] = [
  { id: "leader", name: "Leader: decides, saves plans, runs" },
  { id: "member", name: "Member: steps, log, photographs" },
  { id: "observer", name: "Observer: reads, may stop" },
];

export function TeamPage({ session }: { session: Session }) {
  const teams = session.teams.filter((one) => one.role === "leader");
  return (
    <main className="mx-auto max-w-4xl p-5">
      <header className="flex flex-wrap items-center gap-3 border-b-2 border-ink pb-4">
        <h1 className="mr-auto text-loud font-semibold">People</h1>
        <Link to="/plans" className="button flex items-center">
          Plans
        </Link>
      </header>
      {teams.length ? (
        teams.map((one) => <Members key={one.id} team={one} me={session.username} />)
      ) : (
        <p className="mt-4 text-answer">The leader of your team says who is in it.</p>
      )}
      <OwnPassword me={session.username} />
    </main>
  );
}

function Members({ team, me }: { team: Team; me: string }) {
  const queries = useQueryClient();
  const path = { params: { path: { team_id: team.id } } };
  const key = ["members", team.id];
  const found = useQuery({
    queryKey: key,
    queryFn: async () => answered(await api.GET("/api/teams/{team_id}/members", path)),
  });
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("member");
  const invite = useMutation({
    mutationFn: async (body: { username: string; role: Role }) => ({
      ...answered(await api.POST("/api/teams/{team_id}/invitations", { ...path, body })),
      username: body.username,
    }),
    onSuccess: () => queries.invalidateQueries({ queryKey: key }),
  });
  const change = useMutation({
    mutationFn: async ({ username, to }: { username: string; to: Role | null }) =>
      answered(
        await api.PUT("/api/teams/{team_id}/members/{username}", {
          params: { path: { team_id: team.id, username } },
          body: { role: to },
        }),
      ),
    onSuccess: (rows) => queries.setQueryData(key, rows),
  });
  const fault = invite.error ?? change.error;
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) invite.mutate({ username: name.trim(), role });
  };
  return (
    <section className="mt-5" aria-label={team.name}>
      <h2 className="text-answer font-semibold">{team.name}</h2>
      <ul>
        {(found.data?.members ?? []).map((one) => (
          <li key={one.username} className="flex flex-wrap items-end gap-3 border-b border-line py-2">
            <p className="mr-auto pb-2.5 text-answer">
              {one.username}
              {one.username === me ? <span className="font-label text-quiet"> you</span> : null}
            </p>
            <div className="w-72">
              <Choice
                label={`Role of ${one.username}`}
                value={one.role}
                options={ROLES}
                onChange={(to) => change.mutate({ username: one.username, to: to as Role })}
              />
            </div>
            <button
              type="button"
              className="button"
              onClick={() => invite.mutate({ username: one.username, role: one.role })}
            >
              New link
            </button>
            <button
              type="button"
              className="button"
              onClick={() => change.mutate({ username: one.username, to: null })}
            >
              Out
            </button>
          </li>
        ))}
      </ul>
      {(found.data?.invited ?? []).map((one) => (
        <p key={one.username} className="mt-2 font-label text-quiet">
          {one.username}, {one.role}: link not used yet, good until {clock(one.expires_at)}
        </p>
      ))}
      {fault ? <Wrong className="mt-3">{wrongOf(fault)}</Wrong> : null}
      <form className="mt-4 flex flex-wrap items-end gap-3" onSubmit={send}>
        <label className="min-w-48 flex-1">
          <span className="field-label">Somebody new, by name</span>
          <input className="field" value={name} maxLength={60} onChange={(event) => setName(event.target.value)} />
        </label>
        <div className="w-72">
          <Choice label="Role" value={role} options={ROLES} onChange={(to) => setRole(to as Role)} />
        </div>
        <button type="submit" className="button button-main" disabled={!name.trim()}>
          Make a link
        </button>
      </form>
      <WhoCameIn team={team.id} />
      {invite.data ? (
        <div role="status" className="mt-3 border-2 border-ink px-4 py-2" data-testid="link">
          <p className="text-answer">
            For <b>{invite.data.username}</b>, once, until {clock(invite.data.expires_at)}. It is shown only now:
          </p>
          <p className="font-semibold break-all select-all">
            {window.location.origin}
            {invite.data.path}
          </p>
        </div>
      ) : null}
    </section>
  );
}
