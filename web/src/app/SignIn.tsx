/** The way in: the caution first, then who you are. */
import { useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answered, api } from "../device/client";
import { wrongOf } from "../ui/faults";
import { PasswordField } from "../ui/PasswordField";
import { Wrong } from "../ui/Wrong";

export function SignIn({ caution }: { caution: string }) {
  const queries = useQueryClient();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const send = async (event: FormEvent) => {
    event.preventDefault();
    try {
      queries.setQueryData(["session"], answered(await api.POST("/api/session", { body: { username, password } })));
    } catch (error) {
      setWrong(wrongOf(error, "The server can not be reached. Nothing is lost; try again."));
    }
  };
  return (
    <main className="mx-auto grid min-h-full max-w-5xl content-center gap-8 p-6 roomy:grid-cols-[1fr_22rem]">
      <section>
        <h1 className="text-4xl font-semibold">Outrigger</h1>
        <p className="mt-2 text-answer">
          Rope rescue rigging on one working sheet: what every strand carries, what every bend costs, what gives first,
          and why it was decided.
        </p>
        <svg viewBox="0 0 560 190" className="mt-6 w-full" aria-hidden>
          <path d="M0 62 L150 70 L330 92 L372 176 L560 186 V190 H0 Z" fill="var(--ground)" />
          <path d="M0 62 L150 70 L330 92 L372 176 L560 186" fill="none" stroke="var(--ink)" strokeWidth="2" />
          <path
            d="M62 66 C66 50 65 20 66 4 H74 C75 20 74 50 78 66"
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeWidth="2"
          />
          <path d="M70 52 H128" stroke="var(--ink)" strokeWidth="3" />
          <path d="M128 52 L330 86 L356 140" fill="none" stroke="var(--over)" strokeWidth="4" />
          <circle cx="128" cy="52" r="6" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2.5" />
          <circle cx="330" cy="86" r="7" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2.5" />
          <path d="M336 134 H380 L375 148 H341 Z" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2.5" />
        </svg>
      </section>
      <form onSubmit={(event) => void send(event)} className="flex flex-col gap-3 border-2 border-ink bg-sheet p-5">
        <p className="border-l-4 border-over bg-tint p-3 text-body leading-snug">
          <b className="text-over">◆ Caution.</b> {caution}
        </p>
        <label>
          <span className="field-label">Name</span>
          <input
            className="field"
            autoComplete="username"
            // eslint-disable-next-line jsx-a11y/no-autofocus -- the page is for nothing else
            autoFocus
            value={username}
            onChange={(event) => setUsername(event.target.value)}
          />
        </label>
        <PasswordField label="Password" value={password} onChange={setPassword} />
        {wrong ? <Wrong>{wrong}</Wrong> : null}
        <button type="submit" className="button button-main">
          Sign in
        </button>
      </form>
    </main>
  );
}
