/** One's own sign-in: another password, and an end to the sessions on other devices. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answered, api, setCsrfToken } from "../../device/client";
import type { Session } from "../../api/types";
import { wrongOf } from "../../ui/faults";
import { PasswordField } from "../../ui/PasswordField";
import { Wrong } from "../../ui/Wrong";

export function OwnPassword({ me }: { me: string }) {
  const queries = useQueryClient();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const renewed = (session: Session) => {
    setCsrfToken(session.csrf_token);
    queries.setQueryData(["session"], session);
    setOld("");
    setFresh("");
  };
  const change = useMutation({
    mutationFn: async () => answered(await api.POST("/api/session/password", { body: { old, new: fresh } })),
    onSuccess: renewed,
  });
  const end = useMutation({
    mutationFn: async () => answered(await api.DELETE("/api/session/others")),
    onSuccess: renewed,
  });
  const fault = change.error ?? end.error;
  const send = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <section className="mt-8 border-t-2 border-ink pt-3" aria-label="Your own sign-in">
      <h2 className="text-answer font-semibold">Your own sign-in, {me}</h2>
      <form className="mt-2 flex flex-wrap items-end gap-3" onSubmit={send}>
        <PasswordField label="Password now" value={old} onChange={setOld} className="min-w-56 flex-1" />
        <PasswordField
          label="New password, twelve letters or more"
          fresh
          value={fresh}
          onChange={setFresh}
          className="min-w-56 flex-1"
        />
        <button type="submit" className="button button-main" disabled={!old || !fresh || change.isPending}>
          Change it
        </button>
        <button type="button" className="button" onClick={() => end.mutate()}>
          Sign out my other devices
        </button>
      </form>
      {fault ? <Wrong className="mt-3">{wrongOf(fault)}</Wrong> : null}
      {change.isSuccess ? (
        <p role="status" className="mt-3 text-answer">
          Changed. Your other devices have to sign in anew; what waits on them is kept there.
        </p>
      ) : end.isSuccess ? (
        <p role="status" className="mt-3 text-answer">
          Only this device is signed in under your name now.
        </p>
      ) : null}
    </section>
  );
}
