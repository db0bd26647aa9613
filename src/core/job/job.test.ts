import { ACTIONS, planActions, type Action } from "@/core/job/actions";
import { actionsFor } from "@/core/job/goal";
import { checkEntry, type Entry } from "@/core/job/journal";
import { currentStep, foldJob } from "@/core/job/state";

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

  it("entries of another shape are refused at the door", () => {
    expect(() => checkEntry({ kind: "done", step: "flash" })).toThrow();
    expect(() => checkEntry({ kind: "dance" })).toThrow();
    expect(() => checkEntry(null)).toThrow();
    expect(checkEntry({ kind: "finished" })).toEqual({ kind: "finished" });
  });
});
