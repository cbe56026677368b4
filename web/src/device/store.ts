/** What this device keeps: what is not with the server yet, and what the server last answered. */
import Dexie, { type Table } from "dexie";
import type { Document, NewEntry, RunAct } from "../api/types";

/** Something for the server, in the order in which it was done; `offline`: done while there was no connection. */
export interface Waiting {
  place?: number;
  id: string;
  plan: string;
  /** Whoever was signed in: it goes out under that name only. */
  by: string;
  made: string;
  offline: boolean;
  item:
    | { type: "act"; act: Omit<RunAct, "id" | "device_time" | "device_ahead_ms" | "kept"> }
    | { type: "entry"; entry: Omit<NewEntry, "id" | "device_time" | "device_ahead_ms"> }
    | { type: "photo"; file: Blob; name: string; step: string; text?: string };
}

export type WaitingSave =
  | { type: "save"; id: string; document: Document }
  | { type: "log"; id: string; entry: Omit<NewEntry, "id" | "revision"> };

/** A plan as a tab has it: `base`, the revision that the first waiting save starts from; the document as last edited. */
export interface KeptPlan {
  /** plan.tab */
  key: string;
  plan: string;
  base: number;
  waiting: WaitingSave[];
  draft: Document | null;
  seen: number;
  /** Whoever was signed in: it goes out under that name only. */
  by?: string;
  /** It needs its page: somebody saved in between, or the server refused it. */
  stuck?: "stale" | "refused";
}

export interface Answer {
  key: string;
  asked: string;
  at: number;
  body: string;
}

class Store extends Dexie {
  waiting!: Table<Waiting, number>;
  plans!: Table<KeptPlan, string>;
  answers!: Table<Answer, string>;

  constructor() {
    super("outrigger");
    this.version(1).stores({ waiting: "++place,&id,plan", plans: "key,plan", answers: "key,at" });
    this.version(2).stores({ waiting: "++place,&id,plan,by" });
  }
}

export const store = new Store();
