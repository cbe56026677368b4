/** What a team can do: everybody by name, when last, how fast; what an evening would be made up of. */
import { useQuery } from "@tanstack/react-query";
import type { SkillKept, Team, TeamPractised } from "../../api/types";
import { answered, api } from "../../device/client";
import { day } from "../../ui/format";

export function TeamPractice({ team, onEvening }: { team: Team; onEvening: (skills: string[]) => void }) {
  const found = useQuery({
    queryKey: ["practice", team.id],
    queryFn: async () =>
      answered(await api.GET("/api/teams/{team_id}/practice", { params: { path: { team_id: team.id } } })),
  });
  if (!found.data) return <p className="mt-4 text-answer">Opening.</p>;
  const { people, evening, needed } = found.data;
  return (
    <section aria-label={team.name} className="mt-4">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto text-head font-semibold">{team.name}</h2>
        {evening.length ? (
          <button
            type="button"
            className="button button-main"
            onClick={() => onEvening(evening.map((one) => one.skill))}
          >
            An evening of what is due
          </button>
        ) : null}
      </div>
      <p className="text-body text-quiet">
        What an evening would be made up of:{" "}
        {evening.map((one) => `${one.name.toLowerCase()} (${one.who.length})`).join(", ")}.
      </p>
      <div className="mt-2 overflow-x-auto">
        <table className="w-full text-body">
          <thead>
            <tr className="border-b-2 border-ink text-left align-bottom">
              <th className="py-1 pr-3">Skill</th>
              {people.map((one) => (
                <th key={one.name} className="px-2 py-1 whitespace-nowrap">
                  {one.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>{rows(people)}</tbody>
        </table>
      </div>
      <p className="mt-2 font-label text-quiet">
        ■ known now, ◆ due, – never done. Seen by the team's leaders and, each their own, by its people; gone when its
        owner says so.
      </p>
      {needed.length ? (
        <>
          <h3 className="mt-4 font-semibold">What runs needed that nobody had practised</h3>
          <ul className="text-body">
            {needed.map((one) => (
              <li key={`${one.plan} ${one.begun_at}`} className="border-b border-line py-1.5">
                <b>{one.title}</b>, {day(one.begun_at)}: {[...one.skills, ...one.knots].join(", ").toLowerCase()}
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {people.some((one) => one.tying.length) ? (
        <>
          <h3 className="mt-4 font-semibold">Tied before somebody</h3>
          <ul className="text-body">
            {people.flatMap((one) =>
              one.tying.map((tied) => (
                <li key={`${one.name} ${tied.knot}`}>
                  {one.name}: {tied.name.toLowerCase()}, {tied.right} of {tied.done} right
                  {tied.quickest_s ? `, ${tied.quickest_s.toFixed(0)} s at the quickest` : ""}
                  {tied.last ? `, last on ${day(tied.last)}` : ""}
                </li>
              )),
            )}
          </ul>
        </>
      ) : null}
    </section>
  );
}

function rows(people: TeamPractised["people"]) {
  const skills = [...(people[0]?.skills ?? [])].sort((a, b) => a.name.localeCompare(b.name));
  return skills.map((skill) => (
    <tr key={skill.skill} className="border-b border-line">
      <th className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">{skill.name}</th>
      {people.map((one) => (
        <td key={one.name} className="px-2 whitespace-nowrap">
          <Stands one={one.skills.find((other) => other.skill === skill.skill)} />
        </td>
      ))}
    </tr>
  ));
}

function Stands({ one }: { one: SkillKept | undefined }) {
  if (!one?.last || !one.due) return <span aria-label="never done">–</span>;
  const due = one.is_due;
  return (
    <span className={due ? "font-semibold text-over" : ""}>
      {due ? "◆" : "■"} {one.right} of {one.done}, {day(one.last)}
    </span>
  );
}
