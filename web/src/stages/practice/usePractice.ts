/** Practice of whoever is here: what is due, a round of drills, answers sent as soon as somebody hears them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import type { Drill, Practice } from "../../api/types";
import { answered, api, Refused } from "../../device/client";
import { newId } from "../../device/newId";
import { useSettings } from "../../ui/settings";
import { keep, keptBy } from "./kept";

/** So many are there for whoever has no connection afterwards. */
const AHEAD = 30;
const KEY = ["practice"];

export function usePractice(me: string) {
  const queries = useQueryClient();
  const [{ force, length }] = useSettings();
  const [wrong, setWrong] = useState("");
  const [waiting, setWaiting] = useState(() => keptBy(me).waiting.length);
  const found = useQuery({
    queryKey: KEY,
    queryFn: async () => {
      const known = answered(await api.GET("/api/practice"));
      keep(me, () => ({ known }));
      return known;
    },
    retry: false,
  });
  const known: Practice | null = found.data ?? keptBy(me).known;

  const round = useCallback(
    async (count: number, skill?: string[], plan?: string): Promise<Drill[]> => {
      try {
        const query = { count, skill, plan, force_unit: force as "kN", length_unit: length as "m" };
        return answered(await api.GET("/api/practice/round", { params: { query } })).drills;
      } catch (error) {
        if (error instanceof Refused || plan) throw error;
        // Without a connection: of what was fetched before, and what is left stays for the next time.
        const { ahead } = keptBy(me);
        const fits = ahead.filter((one) => !skill || skill.includes(one.skill)).slice(0, count);
        keep(me, () => ({ ahead: ahead.filter((one) => !fits.includes(one)) }));
        return fits;
      }
    },
    [me, force, length],
  );

  const send = useCallback(async () => {
    const { device, waiting: answers } = keptBy(me);
    if (!answers.length) return;
    try {
      const now = answered(
        await api.POST("/api/practice/answers", { body: { device, answers: answers.slice(0, 200) } }),
      );
      const sent = new Set(answers.slice(0, 200).map((one) => one.id));
      const left = keep(me, (old) => ({ known: now, waiting: old.waiting.filter((one) => !sent.has(one.id)) }));
      setWaiting(left.waiting.length);
      setWrong("");
      queries.setQueryData(KEY, now);
    } catch (error) {
      if (error instanceof Refused) setWrong(error.faults.map((one) => `${one.problem}: ${one.right}`).join("; "));
    }
  }, [me, queries]);

  // What waits is sent when there is somebody to hear it; some drills are there for when there is not.
  useEffect(() => {
    const first = window.setTimeout(() => void send());
    const heard = () => void send();
    window.addEventListener("online", heard);
    return () => {
      window.clearTimeout(first);
      window.removeEventListener("online", heard);
    };
  }, [send]);
  useEffect(() => {
    if (!found.data || keptBy(me).ahead.length >= AHEAD / 2) return;
    void round(AHEAD).then((ahead) => keep(me, () => ({ ahead })));
  }, [found.data, me, round]);

  const answer = useCallback(
    (drill: Drill, given: number[], took_s: number, plan: string | null) => {
      const next = keep(me, (old) => ({
        number: old.number + 1,
        waiting: [
          ...old.waiting,
          {
            id: newId(),
            number: old.number,
            skill: drill.skill,
            seed: drill.seed,
            level: drill.level as 1,
            given,
            took_s,
            at: new Date().toISOString(),
            about: plan ? { plan, revision: drill.revision } : null,
          },
        ],
      }));
      setWaiting(next.waiting.length);
      void send();
    },
    [me, send],
  );

  return { known, waiting, wrong, round, answer, again: () => queries.invalidateQueries({ queryKey: KEY }) };
}
