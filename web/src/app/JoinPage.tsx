/** A one-time link opened: a password of one's own, and in. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useNavigate, useParams } from "react-router";
import { answered, api, Refused } from "../api/client";

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
      setWrong(
        error instanceof Refused
          ? error.faults.map((fault) => `${fault.problem} ${fault.right}`).join(" ")
          : "The server can not be reached; try again.",
      );
    }
  };
  return (
    <main className="mx-auto max-w-xl p-6">
      <h1 className="text-3xl font-semibold">Outrigger</h1>
      {found.error ? (
        <p role="alert" className="mt-4 text-lg font-semibold text-over">
          ◆ {found.error instanceof Refused ? found.error.faults[0]?.problem : "The server can not be reached."}
        </p>
      ) : null}
      {found.data ? (
        <form className="mt-4 flex flex-col gap-3" onSubmit={(event) => void send(event)}>
          <p className="text-lg">
            You are <b>{found.data.username}</b> in {found.data.team}. Choose a password of your own; nobody else is
            told it.
          </p>
          <label>
            <span className="field-label">Password</span>
            <input
              className="field"
              type="password"
              autoComplete="new-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          </label>
          {wrong ? (
            <p role="alert" className="font-semibold text-over">
              ◆ {wrong}
            </p>
          ) : null}
          <button type="submit" className="button button-main self-start" disabled={!password}>
            Come in
          </button>
        </form>
      ) : null}
    </main>
  );
}
