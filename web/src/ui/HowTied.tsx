/** To the drawings of how things are tied. */
import { Link } from "react-router";
import type { DrawnAs } from "../api/types";

export function HowTied({ drawn }: { drawn: DrawnAs[] | undefined }) {
  if (!drawn?.length) return null;
  return (
    <p className="font-label">
      How it is tied:{" "}
      {drawn.map((one, number) => (
        <span key={one.id}>
          {number ? ", " : ""}
          <Link to={`/reference/${one.id}`} className="inline-flex min-h-11 items-center underline">
            {one.name}
          </Link>
        </span>
      ))}
    </p>
  );
}
