/** What was done on this device and is not with the server yet. */
import { useLiveQuery } from "dexie-react-hooks";
import { store } from "../device/store";
import { useStill } from "../plan/useStill";

/** What is on its way for less than this is not worth a word. */
const SOON_MS = 1500;

export function Unsent({ me }: { me: string }) {
  const waits = useLiveQuery(() => store.waiting.where({ by: me }).count(), [me]) ?? 0;
  const still = useStill(waits, SOON_MS);
  const unsent = Math.min(waits, still);
  if (!unsent) return null;
  return (
    <p role="status" className="border-b border-line bg-tint px-4 py-1 text-[17px]" data-testid="unsent">
      ◆ {unsent} not sent yet, kept on this device. It goes out by itself, from any page.
    </p>
  );
}
