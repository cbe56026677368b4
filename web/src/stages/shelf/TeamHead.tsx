/** The head of a team's own pages: whose, and the way back and to the other. */
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Session, Team } from "../../api/types";

interface Props {
  title: string;
  session: Session;
  team: Team | undefined;
  to: string;
  other: { name: string; to: string };
  children: ReactNode;
}

export function TeamHead({ title, session, team, to, other, children }: Props) {
  return (
    <main tabIndex={-1} className="mx-auto max-w-4xl p-4 pb-10">
      <header className="flex flex-wrap items-center gap-2 border-b-2 border-ink pb-3">
        <Link to="/plans" className="button flex items-center px-3" aria-label="Plans">
          ‹
        </Link>
        <h1 className="mr-auto text-loud font-semibold">{title}</h1>
        {session.teams.length > 1
          ? session.teams.map((one) => (
              <Link
                key={one.id}
                to={`${to}/${one.id}`}
                aria-current={one === team ? "page" : undefined}
                className="button flex items-center aria-[current=page]:bg-ink aria-[current=page]:text-sheet"
              >
                {one.name}
              </Link>
            ))
          : null}
        <Link to={other.to} className="button flex items-center">
          {other.name}
        </Link>
      </header>
      {team ? children : <p className="mt-4 text-answer">You are in no team.</p>}
    </main>
  );
}
