import type { StepName } from "@/core/job/actions";
import { backupOf, resultOf } from "@/core/job/found";
import type { Entry } from "@/core/job/journal";
import { currentStep, foldJob, mayReopen } from "@/core/job/state";

describe("a plan that was taken", () => {
  const ordered = ["back-up", "plan", "make-safe", "flash", "restore", "sign-off"].map((id) => ({
    id,
    title: id,
    why: "",
    ...(["flash", "restore"].includes(id) ? { writes: true } : {}),
  }));
  const entered = (entries: readonly Entry[]) =>
    entries.map((entry, no) => ({ no, at: no, account: "technician", entry }));
  const done = (step: string, data: object = {}): Entry => ({
    kind: "done",
    step: step as StepName,
    evidence: "x",
    data,
  });
  const upTo = (last: number): Entry[] => [
    done("back-up", { backupId: 1 }),
    { kind: "taken" },
    done("plan", { planSha: "a", scriptSha: "b", twinSha: "c" }),
    ...ordered.slice(2, last).map(({ id }) => done(id)),
    ...(ordered[last] ? [{ kind: "started", step: ordered[last].id as StepName } as const] : []),
  ];

  it("is taken only as its twin played it: a decision after that takes the word back, and the next word waits for the next twin", () => {
    const take: Entry = {
      kind: "waits",
      step: "plan",
      need: { kind: "take", say: "x", asks: [], script: "a", twin: "t" },
    };
    const begun = [done("back-up", { backupId: 1 }), take];
    expect(currentStep(foldJob(ordered, entered(begun)))?.need?.kind).toBe("take");
    const changed = foldJob(ordered, entered([...begun, { kind: "decided", choices: { a: "keep" } }]));
    expect(currentStep(changed)).toMatchObject({ id: "plan", status: "waiting" });
    expect(currentStep(changed)?.need).toBeUndefined();
    const late = foldJob(ordered, entered([...begun, { kind: "taken" }, { kind: "decided", choices: { a: "keep" } }]));
    expect(late.taken).toBeUndefined();
  });

  it("can be laid open again until a step that writes has begun, whatever else has; then its papers are gone from the job", () => {
    for (let last = 2; last <= ordered.length; last++) {
      const state = foldJob(ordered, entered(upTo(last)));
      expect([last, mayReopen(ordered, state)]).toEqual([last, last <= 2]);
      if (last > 2) continue;
      const open = foldJob(ordered, entered([...upTo(last), { kind: "reopened" }]));
      expect([backupOf(open), resultOf(open, "plan")]).toEqual([1, {}]);
      expect(open.taken).toBeUndefined();
      expect(currentStep(open)?.id).toBe("plan");
      expect(open.steps.slice(1).every(({ status }) => status === "to-do")).toBe(true);
      expect(mayReopen(ordered, open)).toBe(false);
    }
    expect(mayReopen(ordered, foldJob(ordered, entered([done("back-up"), done("plan")])))).toBe(false);
  });

  it("what a step has stored outlives waits and interruptions; whoever begins it again begins at its first line", () => {
    const stored: Entry = { kind: "stored", step: "restore", lines: 300, answers: "a" };
    const board: Entry = { kind: "waits", step: "restore", need: { kind: "board", say: "x", asks: [] } };
    const outlived: Entry[] = [
      stored,
      board,
      { kind: "started", step: "restore" },
      { kind: "interrupted", step: "restore", text: "x" },
    ];
    const held = (entries: readonly Entry[]) =>
      foldJob(ordered, entered(entries)).steps.find(({ id }) => id === "restore")?.stored;
    for (let n = 1; n <= outlived.length; n++)
      expect(held(outlived.slice(0, n))).toEqual({ lines: 300, answers: "a", started: false });
    expect(held([...outlived, { kind: "again", step: "restore" }])).toBeUndefined();
  });
});
