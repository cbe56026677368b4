/** The check of the document as it stands, and what a second person has signed of it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { answered, api } from "../device/client";
import { newId } from "../device/newId";
import type { Check, Document, SignedLine } from "../api/types";
import { useSettings } from "../ui/settings";
import { useFollowing } from "./useFollowing";
import { useStill } from "./useStill";

const STILL_MS = 250;
// The whole way is asked at once where the check is looked at, elsewhere once nothing has been touched for a while.
const IDLE_MS = 3000;

/** What a line of the check goes by: its kind and values, and what it says. */
export type Answered = { id: string; answer: string; words: string };

export type Standing = "signed" | "came-open" | "unsigned";

export interface CheckOf {
  check: Check;
  /** Whether the whole way has been asked of the document as it stands, not only where the load starts. */
  whole: boolean;
  /** Under what id the server knows the asking of the whole way. */
  doing: string;
  /** The last signature of each line. */
  signed: Map<string, SignedLine>;
  /** Lines in the order of the sheet. */
  all: (Answered & { stops: boolean })[];
  standing: (line: Answered) => Standing;
  answered: number;
}

export function useCheck(document: Document, plan: string, looked: boolean): CheckOf | null {
  const [{ force, length }] = useSettings();
  const still = useStill(document, STILL_MS);
  const idle = useStill(still, looked ? 0 : IDLE_MS, !looked);
  const query = useMemo(() => ({ params: { query: { force_unit: force, length_unit: length } } }), [force, length]);
  const askHere = useCallback(
    async () => ({ of: still, check: answered(await api.POST("/api/check/here", { ...query, body: still })) }),
    [still, query],
  );
  const [doing] = useState(newId);
  const askWhole = useCallback(
    async () =>
      idle && {
        of: idle,
        check: answered(
          await api.POST("/api/plans/{plan_id}/check", {
            params: { path: { plan_id: plan }, query: query.params.query },
            body: idle,
            headers: { "X-Doing": doing },
          }),
        ),
      },
    [idle, query, doing, plan],
  );
  const { answer: here } = useFollowing(askHere);
  const { answer: everywhere } = useFollowing(askWhole);
  // Where the load starts is told at once; what is found further up its way follows.
  const told = everywhere && (everywhere.of === still || here?.of !== still) ? everywhere : here;
  const check = told?.check;
  const whole = told === everywhere && everywhere?.of === still;
  const rows = useQuery({
    queryKey: ["signed", plan],
    queryFn: async () =>
      answered(await api.GET("/api/plans/{plan_id}/signed", { params: { path: { plan_id: plan } } })),
  });
  if (!check) return null;
  const signed = new Map((rows.data ?? []).map((one) => [one.line, one]));
  const standing = (line: Answered): Standing => {
    const last = signed.get(line.id);
    if (!last) return "unsigned";
    // What was signed was asked over the whole way: until that is there, nothing comes open.
    // Early signatures went by the words; they hold as long as the same is said.
    return !whole || last.answer === line.answer || last.answer === line.words ? "signed" : "came-open";
  };
  const all = [
    ...check.rows.map((one) => ({ id: one.id, answer: one.answer, words: one.words, stops: one.level === "stop" })),
    ...check.lines.map((one) => ({ id: one.id, answer: one.answer, words: one.words, stops: one.open })),
  ];
  const done = all.filter((one) => !one.stops && standing(one) === "signed").length;
  return { check, whole, doing, signed, all, standing, answered: done };
}

/** Puts the name of whoever is signed in under lines (all that can be signed, where none are named). */
export function useSign(plan: string, revision: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (lines: string[] | null) =>
      answered(
        await api.POST("/api/plans/{plan_id}/sign", {
          params: { path: { plan_id: plan } },
          body: { id: newId(), revision, lines },
        }),
      ),
    onSuccess: async (rows) => {
      queries.setQueryData(["signed", plan], rows);
      await queries.invalidateQueries({ queryKey: ["log", plan] });
    },
  });
}
