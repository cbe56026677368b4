/** What is edited without a connection: the last state of it is saved, and every decision finds the plan that it was made on. */
import { describe, expect, it } from "vitest";
import { edited } from "@/plan/edits";
import { withSave, without } from "@/device/queue";
import type { Document, Revision } from "@/api/types";
import type { WaitingSave } from "@/device/store";

const plan = (title: string) => ({ title, ropes: [{ id: "main", length_m: 60 }] }) as unknown as Document;
const titles = (waiting: WaitingSave[]) =>
  waiting.map((one) => (one.type === "save" ? one.document.title : "decision"));
const decision = { type: "log", id: "d", entry: {} } as unknown as WaitingSave;

describe("saves that wait", () => {
  it("are one: the last", () => {
    expect(titles(withSave(withSave([], plan("a"), null), plan("b"), null))).toEqual(["b"]);
  });

  it("stay where a decision was made on them", () => {
    expect(titles(withSave([...withSave([], plan("a"), null), decision], plan("b"), null))).toEqual([
      "a",
      "decision",
      "b",
    ]);
  });

  it("stay where one is on its way", () => {
    const first = withSave([], plan("a"), null);
    expect(titles(withSave(first, plan("b"), first[0]!.id))).toEqual(["a", "b"]);
  });
});

describe("what is left when one was sent", () => {
  const saved = { number: 8 } as Revision;
  const two = [...withSave([], plan("a"), null), decision, ...withSave([], plan("b"), null)];
  const kept = { base: 7, waiting: two, draft: plan("b"), by: "ash" };

  it("goes on from the revision that was made, and keeps the draft until its own save is there", () => {
    const after = without(kept, two[0]!, saved);
    expect([after.base, titles(after.waiting), after.draft?.title]).toEqual([8, ["decision", "b"], "b"]);
    expect(without(after, two[2]!, { number: 9 } as Revision)).toMatchObject({ base: 9, draft: null });
  });

  it("is the draft, where a save was refused", () => {
    const alone = { ...kept, waiting: [two[2]!] };
    expect(without(alone, two[2]!)).toMatchObject({ base: 7, waiting: [], draft: { title: "b" } });
  });
});

describe("an edit of the core", () => {
  it("is made on a copy", () => {
    const before = plan("a");
    const after = edited(before, [{ op: "replace", path: "/ropes/0/length_m", value: 80 }]);
    expect([before.ropes[0]!.length_m, after.ropes[0]!.length_m]).toEqual([60, 80]);
  });

  it("adds at the end, takes away, and shares nothing with what it was given", () => {
    const rope = { id: "spare" };
    const after = edited(plan("a"), [
      { op: "add", path: "/ropes/-", value: rope },
      { op: "remove", path: "/ropes/0" },
    ]);
    rope.id = "changed";
    expect(after.ropes.map((one) => one.id)).toEqual(["spare"]);
  });
});
