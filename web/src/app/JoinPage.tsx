/** A one-time link opened: a password of one's own, and in. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useNavigate, useParams } from "react-router";
import { answered, api } from "../device/client";
import { wrongOf } from "../ui/faults";
import { PasswordField } from "../ui/PasswordField";
import { Wrong } from "../ui/Wrong";

export function JoinPage() {
  const { token = "" } = useParams();
  const queries = useQueryClient();
  const go = useNavigate();
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const path = { params: { path: { token } } };
  const found = useQuery({
    queryKey: ["join", token],
    retry: false,
    queryFn: async () => answered(await api.GET("/api/join/{token}", path)),
  });
  const send = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const session = answered(await api.POST("/api/join/{token}", { ...path, body: { password } }));
      queries.setQueryData(["session"], session);
      void go("/plans");
    } catch (error) {
      setWrong(wrongOf(error));
    }
  };
  return (
    <main className="mx-auto max-w-xl p-6">
      <h1 className="text-call font-semibold">Outrigger</h1>
      {found.error ? <Wrong className="mt-4 text-answer">{wrongOf(found.error)}</Wrong> : null}
      {found.data ? (
        <form className="mt-4 flex flex-col gap-3" onSubmit={(event) => void send(event)}>
          <p className="text-answer">
            You are <b>{found.data.username}</b> in {found.data.team}. Choose a password of your own; nobody else is
            told it.
          </p>
          <PasswordField label="Password" fresh value={password} onChange={setPassword} />
          {wrong ? <Wrong>{wrong}</Wrong> : null}
          <button type="submit" className="button button-main self-start" disabled={!password}>
            Come in
          </button>
        </form>
      ) : null}
    </main>
  );
}
