/** The operation's sections as its leader puts them in order: what the plan keeps of them, and what a touch makes of that. */
import type { components } from "../../api/schema";
import type { Operation } from "../../api/types";

export type SectionGiven = components["schemas"]["SectionGiven"];
export type Section = Operation["sections"][number];

/** Sections that are one in the plan, in its order: a lower with the joins that fall in it, every haul of a raise. */
export function stretches(operation: Operation): Section[][] {
  const rows: Section[][] = [];
  for (const one of operation.sections) (rows[one.place] ??= []).push(one);
  return rows;
}

/** What the plan would keep of them. */
export function given(operation: Operation): SectionGiven[] {
  return stretches(operation).map((rows) => ({
    procedure: rows[0]!.procedure,
    instead: rows.at(-1)!.instead.map((one) => ({ when: one.when, procedure: one.procedure })),
  }));
}

export function moved(rows: SectionGiven[], from: number, by: number): SectionGiven[] {
  const next = [...rows];
  const [one] = next.splice(from, 1);
  next.splice(from + by, 0, one!);
  return next;
}

export function without(rows: SectionGiven[], place: number): SectionGiven[] {
  return rows.filter((_, other) => other !== place);
}

/** One more after a place; -1 is before all of them. */
export function added(rows: SectionGiven[], after: number, procedure: string): SectionGiven[] {
  return [...rows.slice(0, after + 1), { procedure, instead: [] }, ...rows.slice(after + 1)];
}

export function withInstead(rows: SectionGiven[], place: number, when: string, procedure: string): SectionGiven[] {
  return rows.map((one, other) =>
    other === place ? { ...one, instead: [...(one.instead ?? []), { when, procedure }] } : one,
  );
}

export function withoutInstead(rows: SectionGiven[], place: number, number: number): SectionGiven[] {
  return rows.map((one, other) =>
    other === place ? { ...one, instead: (one.instead ?? []).filter((_, way) => way !== number) } : one,
  );
}

/** What fits where a section stands: what may follow the one before it. */
export function fitting(operation: Operation, place: number): Operation["may_begin"] {
  const before = stretches(operation)[place - 1];
  return before ? before.at(-1)!.may_follow : operation.may_begin;
}
