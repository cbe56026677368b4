/** What did not go and why, where it was asked for. */
import type { ReactNode } from "react";

export function Wrong({ className = "", children }: { className?: string; children: ReactNode }) {
  return (
    <p role="alert" className={`font-semibold text-over ${className}`}>
      ◆ {children}
    </p>
  );
}
