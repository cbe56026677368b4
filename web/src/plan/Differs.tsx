/** What two documents of a plan differ in, a line each, in the leader's words. */
import type { Document } from "../api/types";
import { upperFirst } from "../ui/format";
import { useDiffers } from "./useDiffers";

export function Differs({ before, after }: { before: Document; after: Document }) {
  const changes = useDiffers(before, after);
  if (changes?.length === 0) return <p>Only where things stand on the drawing.</p>;
  return (
    <ul data-testid="differs">
      {changes?.map((one) => (
        <li key={one} className="border-b border-line py-1 text-body">
          {upperFirst(one)}
        </li>
      ))}
    </ul>
  );
}
