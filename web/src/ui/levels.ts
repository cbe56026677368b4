/** How urgent something is: shape first, then words. */
import type { Finding } from "../api/types";

export const LEVEL: Record<Finding["level"], { mark: string; say: string }> = {
  stop: { mark: "◆", say: "Stop" },
  unknown: { mark: "□", say: "Not known" },
  look: { mark: "◇", say: "Look" },
  note: { mark: "■", say: "Note" },
};
