/** Who somebody is on this run: it says what concerns them on a phone. */
import { useState } from "react";
import { Sheet } from "../../ui/Sheet";

export const ROLES: Record<string, string> = {
  leader: "Leader",
  edge: "Edge",
  main: "Main line",
  belay: "Belay",
  ratchet: "Ratchet minder",
  haul: "Haul team",
  attendant: "Attendant",
  writer: "Writer",
};

export function useRole(plan: string): [string, (role: string) => void] {
  const key = `outrigger.role.${plan}`;
  const [role, set] = useState(() => localStorage.getItem(key) ?? "");
  return [
    role,
    (one) => {
      localStorage.setItem(key, one);
      set(one);
    },
  ];
}

export function RoleSheet({
  role,
  onRole,
  onClose,
}: {
  role: string;
  onRole: (role: string) => void;
  onClose: () => void;
}) {
  return (
    <Sheet title="Who are you on this run?" onClose={onClose} wide>
      <div className="grid gap-2 sm:grid-cols-2">
        {Object.entries(ROLES).map(([id, name]) => (
          <button
            key={id}
            type="button"
            className={`button min-h-14 text-answer ${role === id ? "button-main" : ""}`}
            aria-pressed={role === id}
            onClick={() => onRole(id)}
          >
            {name}
          </button>
        ))}
      </div>
    </Sheet>
  );
}
