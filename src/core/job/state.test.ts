import { checkEntry, readEntry, type Entry } from "@/core/job/journal";
import { currentStep, foldJob } from "@/core/job/state";

const refuses = (value: unknown) => {
  try {
    checkEntry(value);
    return false;
  } catch {
    return true;
  }
};

describe("the state of a job", () => {
  const actions = [{ id: "know-board" }, { id: "back-up" }];
  const fold = (...entries: Entry[]) =>
    foldJob(
      actions,
      entries.map((entry, i) => ({ no: i, at: i * 1000, account: "technician", entry })),
    );

  it("is the fold of its journal", () => {
    const state = fold(
      { kind: "started", step: "know-board" },
      { kind: "done", step: "know-board", evidence: "seen", data: { chipId: "x" } },
      { kind: "started", step: "back-up" },
    );
    expect(state.steps.map((s) => s.status)).toEqual(["done", "running"]);
    expect(state.steps.map(({ result }) => result)).toEqual([{ chipId: "x" }, undefined]);
    expect(currentStep(state)?.id).toBe("back-up");
  });

  it("a step that failed can be begun again, and keeps what it noted", () => {
    const failed = fold(
      { kind: "noted", step: "know-board", text: "odd" },
      { kind: "failed", step: "know-board", problem: { code: "x", message: "y" } },
    );
    expect(currentStep(failed)).toMatchObject({ status: "failed", problem: { code: "x" } });
    const again = fold(
      { kind: "noted", step: "know-board", text: "odd" },
      { kind: "failed", step: "know-board", problem: { code: "x", message: "y" } },
      { kind: "again", step: "know-board" },
    );
    expect(currentStep(again)).toMatchObject({ status: "to-do", notes: [{ text: "odd" }] });
    expect(currentStep(again)?.problem).toBeUndefined();
  });

  it("decisions carry name and time; the last one counts", () => {
    const state = fold(
      { kind: "decided", choices: { a: "keep", b: "keep" } },
      { kind: "decided", choices: { a: "take-default" } },
    );
    expect(state.decisions).toEqual({ a: "take-default", b: "keep" });
    expect(state.decidedBy.a).toEqual({ account: "technician", at: 1000 });
  });

  it("a step keeps when it first began, who confirmed it and what was noted, through all that happens to it", () => {
    const state = fold(
      { kind: "started", step: "know-board" },
      { kind: "noted", step: "know-board", text: "odd", code: "link-lost" },
      { kind: "interrupted", step: "know-board", text: "the bench stopped" },
      { kind: "confirmed", step: "know-board" },
      { kind: "passed", step: "know-board", ask: "nose-up", seen: "nose up" },
      { kind: "waits", step: "know-board", need: { kind: "sign", say: "Sign" } },
      { kind: "started", step: "know-board" },
      { kind: "done", step: "know-board", evidence: "seen", data: {} },
      { kind: "stopped", reason: "enough" },
    );
    expect(state.steps[0]).toEqual({
      id: "know-board",
      kind: "know-board",
      subject: "main",
      result: {},
      status: "done",
      evidence: "seen",
      startedAt: 0,
      endedAt: 7000,
      confirmedBy: "technician",
      passed: { "nose-up": "nose up" },
      notes: [
        { at: 1000, text: "odd", code: "link-lost" },
        { at: 2000, text: "the bench stopped" },
      ],
    });
    expect([state.phase, state.steps[1]]).toEqual([
      "stopped",
      { id: "back-up", kind: "back-up", subject: "main", status: "to-do", passed: {}, notes: [] },
    ]);
    const open = fold({ kind: "signed", statement: "It flies" }, { kind: "finished" });
    expect([open.phase, open.signed]).toEqual([
      "finished",
      { account: "technician", person: "technician", at: 0, statement: "It flies" },
    ]);
  });

  it("entries keep their shape through the store, and without any one of their fields are refused", () => {
    const whole: readonly Entry[] = [
      { kind: "ordered", headline: "Update" },
      { kind: "planned", steps: [{ id: "flash", title: "Write it", why: "so", writes: true }], because: "it is wet" },
      { kind: "started", step: "flash" },
      { kind: "noted", step: "flash", text: "odd" },
      { kind: "waits", step: "plan", need: { kind: "decisions", open: 2, say: "two" } },
      { kind: "done", step: "flash", evidence: "written", data: {} },
      { kind: "failed", step: "flash", problem: { code: "x", message: "y" } },
      { kind: "interrupted", step: "flash", text: "stopped" },
      { kind: "decided", choices: {} },
      { kind: "confirmed", step: "make-safe" },
      { kind: "passed", step: "check-attitude", ask: "nose-up", seen: "nose up" },
      { kind: "again", step: "flash" },
      { kind: "signed", statement: "It flies" },
      { kind: "finished" },
      { kind: "stopped", reason: "enough" },
    ];
    for (const entry of whole) {
      expect(checkEntry(structuredClone(entry))).toEqual(entry);
      for (const field of Object.keys(entry)) {
        const bare = Object.fromEntries(Object.entries(entry).filter(([name]) => name !== field));
        expect([entry.kind, field, refuses(bare)]).toEqual([entry.kind, field, true]);
        if (field !== "kind")
          expect([entry.kind, field, refuses({ ...entry, [field]: 7 })]).toEqual([entry.kind, field, true]);
      }
    }
    expect(refuses({ kind: "noted", step: "flash", text: "odd", code: "sung" })).toBe(true);
    expect(refuses({ kind: "waits", step: "plan", need: { kind: "dance", say: "so" } })).toBe(true);
    expect(refuses({ kind: "waits", step: "plan", need: { kind: "sign" } })).toBe(true);
    // as earlier versions wrote it, and not without what it was always for
    expect(refuses({ kind: "waits", step: "make-safe", need: { kind: "confirm", say: "so", asks: [] } })).toBe(false);
    expect(refuses({ kind: "waits", step: "plan", need: { kind: "board", say: "so" } })).toBe(true);
    expect(refuses({ kind: "waits", step: "plan", need: { kind: "decisions", say: "so", open: "two" } })).toBe(true);
    expect(refuses({ kind: "failed", step: "plan", problem: { code: "x" } })).toBe(true);
    expect(() => checkEntry({ kind: "dance" })).toThrow("unknown kind of entry");
  });

  it("what a step leaves has the form that its kind says today; what an earlier version left is read all the same", () => {
    const earlier: readonly unknown[] = [
      { kind: "done", step: "plan", evidence: "taken", data: { planSha: "a" } },
      { kind: "done", step: "restore", evidence: "sent", data: { scriptSha: "b", answersSha: "c" } },
    ];
    for (const entry of earlier) expect([refuses(entry), readEntry(structuredClone(entry))]).toEqual([true, entry]);
    expect(refuses({ kind: "done", step: "back-up", evidence: "read", data: { backupId: "34" } })).toBe(true);
    expect(refuses({ kind: "done", step: "back-up", evidence: "read", data: { backupId: 34 } })).toBe(false);
    expect(refuses({ kind: "done", step: "unheard-of", evidence: "done", data: { any: 1 } })).toBe(false);
    expect(() => readEntry({ kind: "done", step: "plan", evidence: "taken" })).toThrow();
  });

  it("entries of another shape are refused at the door", () => {
    expect(() => checkEntry({ kind: "done", step: "flash" })).toThrow();
    expect(() => checkEntry({ kind: "dance" })).toThrow();
    expect(() => checkEntry(null)).toThrow();
    expect(checkEntry({ kind: "finished" })).toEqual({ kind: "finished" });
  });
});
