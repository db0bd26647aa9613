import fc from "fast-check";
import { ACTIONS, planActions, type Action, type StepId } from "@/core/job/actions";
import { actionsFor } from "@/core/job/goal";
import { checkEntry, type Entry } from "@/core/job/journal";
import { currentStep, foldJob } from "@/core/job/state";

const refuses = (value: unknown) => {
  try {
    checkEntry(value);
    return false;
  } catch {
    return true;
  }
};

describe("the planner", () => {
  it("finds an order in which every need is met before it", () => {
    const have = new Set<string>();
    for (const action of planActions("signed-off")) {
      expect({ id: action.id, unmet: action.needs.filter((need) => !have.has(need)) }).toEqual({
        id: action.id,
        unmet: [],
      });
      have.add(action.gives);
    }
    expect(have.has("signed-off")).toBe(true);
  });

  it("leaves out what is given, and what the goal does not need", () => {
    expect(planActions("backed-up").map((a) => a.id)).toEqual(["know-board", "back-up"]);
    expect(
      planActions("image-written", new Set(["in-loader", "settings-rescued", "plan-taken"])).map((a) => a.id),
    ).toEqual(["flash"]);
  });

  it("nothing is erased before its rescue: the flash comes after backup and settings read-out whatever the order of the list", () => {
    const ids = planActions("signed-off", new Set(), [...ACTIONS].reverse()).map((a) => a.id);
    expect(ids.indexOf("flash")).toBeGreaterThan(ids.indexOf("back-up"));
    expect(ids.indexOf("flash")).toBeGreaterThan(ids.indexOf("rescue"));
  });

  it("keeps the order that safety wants, in whatever order the actions are listed", () => {
    const before: readonly (readonly [first: StepId, then: StepId])[] = [
      ["know-board", "back-up"],
      ["know-board", "know-target"],
      ["back-up", "plan"],
      ["know-target", "plan"],
      ["plan", "make-safe"],
      ["make-safe", "enter-loader"],
      ["back-up", "enter-loader"],
      ["enter-loader", "rescue"],
      ["rescue", "flash"],
      ["flash", "first-start"],
      ["first-start", "restore"],
      ["make-safe", "restore"],
      ["restore", "prove"],
      ["prove", "check-attitude"],
      ["prove", "check-receiver"],
      ["check-attitude", "sign-off"],
      ["check-receiver", "sign-off"],
    ];
    fc.assert(
      fc.property(fc.shuffledSubarray([...ACTIONS], { minLength: ACTIONS.length }), (listed) => {
        const ids = planActions("signed-off", new Set(), listed).map((action) => action.id);
        expect(before.filter(([first, then]) => !(ids.indexOf(first) < ids.indexOf(then)))).toEqual([]);
      }),
    );
    expect(ACTIONS.filter((action) => action.writes).map((action) => action.id)).toEqual(["flash", "restore"]);
    // a sign-off names the checks, and nothing else, as what was shown
    expect(ACTIONS.filter((action) => action.shows).map((action) => action.id)).toEqual([
      "check-attitude",
      "check-receiver",
    ]);
  });

  it("refuses goals that nothing brings about, and needs in a circle", () => {
    expect(() => planActions("signed-off", new Set(), [])).toThrow("no action");
    const circle = [
      { id: "flash", title: "", why: "", needs: ["restored"], gives: "image-written" },
      { id: "restore", title: "", why: "", needs: ["image-written"], gives: "restored" },
    ] satisfies Action[];
    expect(() => planActions("restored", new Set(), circle)).toThrow("need each other");
  });
});

describe("goals", () => {
  const ids = (kind: Parameters<typeof actionsFor>[0]["kind"]) => actionsFor({ kind }).map((action) => action.id);

  it("an update does all; going back to a backup leaves out what touches the firmware, and nothing else", () => {
    expect(ids("update")).toEqual(ACTIONS.map((action) => action.id));
    const left = ids("update").filter((id) => !ids("set-up").includes(id));
    expect(left).toEqual(["enter-loader", "rescue", "flash", "first-start"]);
  });

  it("whatever the goal: a whole read-out and safe hands come before the wipe, the proof before the name", () => {
    for (const kind of ["update", "set-up"] as const) {
      const order = ids(kind);
      const before = (first: string, then: string) =>
        expect([kind, order.indexOf(first as never) < order.indexOf(then as never)]).toEqual([kind, true]);
      before("back-up", "restore");
      before("make-safe", "restore");
      before("plan", "restore");
      before("prove", "sign-off");
    }
  });
});

describe("the state of a job", () => {
  const actions = planActions("backed-up");
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
    expect(state.data).toEqual({ chipId: "x" });
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
      { id: "back-up", status: "to-do", passed: {}, notes: [] },
    ]);
    const open = fold({ kind: "signed", statement: "It flies" }, { kind: "finished" });
    expect([open.phase, open.signed]).toEqual(["finished", { account: "technician", at: 0, statement: "It flies" }]);
  });

  it("entries keep their shape through the store, and without any one of their fields are refused", () => {
    const whole: readonly Entry[] = [
      { kind: "ordered", headline: "Update" },
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
    expect(refuses({ kind: "failed", step: "plan", problem: { code: "x" } })).toBe(true);
    expect(() => checkEntry({ kind: "dance" })).toThrow("unknown kind of entry");
  });

  it("entries of another shape are refused at the door", () => {
    expect(() => checkEntry({ kind: "done", step: "flash" })).toThrow();
    expect(() => checkEntry({ kind: "dance" })).toThrow();
    expect(() => checkEntry(null)).toThrow();
    expect(checkEntry({ kind: "finished" })).toEqual({ kind: "finished" });
  });
});
