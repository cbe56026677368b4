/** The log by place, as a book whose pages are fetched as they are opened: full pages never change again. */
import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../device/client";
import type { Entry } from "../../api/types";
import { useStill } from "../../plan/useStill";

const PAGE = 100;
/** Pages that are flung past are not asked for. */
const SETTLED_MS = 80;

export interface Filter {
  kind: Entry["kind"] | "";
  who: string;
  step: string;
  words: string;
}

export interface Log {
  total: number;
  loaded: boolean;
  lost: boolean;
  /** The entry at an index counted from the newest, if it is here. */
  at: (index: number) => Entry | undefined;
  /** Which indices are looked at. */
  look: (first: number, last: number) => void;
  /** Whoever wrote what is here. */
  people: string[];
}

export function useLog(plan: string, filter: Filter): Log {
  const ask = async (place?: number) => {
    // Only what is asked for goes into the address.
    const words = Object.fromEntries(Object.entries(filter).filter(([, value]) => value));
    const query = { ...words, ...(place === undefined ? {} : { place }) };
    return answered(await api.GET("/api/plans/{plan_id}/log", { params: { path: { plan_id: plan }, query } }));
  };
  const newest = useQuery({
    queryKey: ["log", plan, filter],
    queryFn: () => ask(),
    placeholderData: keepPreviousData,
  });
  const { total = 0, place: newestPlace = 0, entries = [] } = newest.data ?? {};
  const [inView, view] = useState("");
  const numbers = useStill(inView, SETTLED_MS)
    .split(" ")
    .flatMap((one) => (one ? [Number(one)] : []))
    .filter((number) => number * PAGE < newestPlace);
  const pages = useQueries({
    queries: numbers.map((number) => ({
      queryKey: ["log", plan, filter, number, Math.min(total, (number + 1) * PAGE)],
      queryFn: () => ask(number * PAGE),
      staleTime: Infinity,
    })),
  });
  const at = (index: number) => {
    const place = total - 1 - index;
    if (place >= newestPlace) return entries[place - newestPlace];
    return pages[numbers.indexOf(Math.floor(place / PAGE))]?.data?.entries[place % PAGE];
  };
  return {
    total,
    loaded: newest.data !== undefined,
    lost: newest.isError,
    at,
    look: (first, last) => {
      const pagesOf = [last, first].map((index) => Math.floor(Math.max(0, total - 1 - index) / PAGE));
      view([...new Set(pagesOf)].join(" "));
    },
    people: [...entries, ...pages.flatMap((page) => page.data?.entries ?? [])].map((one) => one.author),
  };
}
