import { INVARIANTS, stepName, type Terms, type Wish } from "@/core/job/action";
import { ACTIONS, homeOf, stepOf } from "@/core/job/actions";
import type { Facts } from "@/core/job/fact";
import { backupOf } from "@/core/job/found";
import { goalFrom, type Goal } from "@/core/job/goals";
import { planJob, planTerms, wishFor } from "@/core/job/plan-job";
import { hindrance } from "@/core/job/planner";
import { foldJob } from "@/core/job/state";
import type { Part } from "@/core/job/subject";
import { worldOf } from "@/core/job/world";
import { catalogue, release } from "../../../tests/support/workshop";

const UPDATE: Goal = { kind: "update", runs: { main: "next-2" } };
const main = { release: { id: "next-2", title: "Next 2" } };

describe("steps of several parts", () => {
  const esc = (n: number): Part => `esc ${n}`;
  const wish: Wish = {
    tag: "QW-01",
    parts: { main, [esc(1)]: { release: { id: "spin-5", title: "Spin 5" } } },
    batteries: ["battery"],
    owed: {},
  };

  it("of a kind there are as many as the job has parts, each under its own name, and none stands for another", () => {
    const terms: Terms = {
      given: { "main: shows": "console", "esc 1: shows": "console" },
      wanted: { "main: settings kept": "yes", "esc 1: settings kept": "yes" },
    };
    const planned = planTerms(terms, wish, {});
    const ids = planned.kind === "plan" ? planned.moves.map(({ id }) => id) : [];
    expect(ids.toSorted()).toEqual(["back-up", "back-up of esc 1", "know-board", "know-board of esc 1"]);
    for (const id of ids) {
      const { kind, subject } = stepOf(id);
      expect(stepName(kind, subject, homeOf(kind))).toBe(id);
    }
  });

  it("a goal names the release of each part: the plan writes them all, and a sign-off answers for each", () => {
    const goal: Goal = { kind: "update", runs: { main: "heddle-23", [esc(2)]: "spindle-45" } };
    const wanted = wishFor({ tag: "QW-01", goal }, release("heddle-23"), undefined, catalogue());
    expect(wanted.parts[esc(2)]?.release).toEqual({ id: "spindle-45", title: "Spindle 45" });
    expect(wanted.owed).toMatchObject({ "main: runs": "heddle-23", "esc 2: runs": "spindle-45" });
    const seen = { "main: shows": "console", "esc 2: shows": "console" } as const;
    const planned = planJob(goal, wanted, seen);
    const ids = planned.kind === "plan" ? planned.moves.map(({ id }) => id) : planned.missing;
    expect(ids).toEqual(expect.arrayContaining(["flash", "flash of esc 2", "sign-off"]));
  });

  it("a goal from before parts were named says what the main one runs", () => {
    expect(goalFrom({ kind: "revive", releaseId: "heddle-22", backupId: 4 })).toEqual({
      kind: "revive",
      runs: { main: "heddle-22" },
      backupId: 4,
    });
    expect(goalFrom(UPDATE)).toBe(UPDATE);
  });

  it("each keeps its own result, and what was rescued of one part lets nothing of another be destroyed", () => {
    const state = foldJob(
      [{ id: "back-up" }, { id: "back-up of esc 1" }],
      (["back-up", "back-up of esc 1"] as const).map((step, i) => ({
        no: i,
        at: i,
        account: null,
        entry: { kind: "done", step, evidence: "read out", data: { backupId: i + 7 } },
      })),
    );
    expect([backupOf(state), backupOf(state, esc(1)), backupOf(state, esc(2))]).toEqual([7, 8, undefined]);
    const { facts } = worldOf(UPDATE, wish, { ...state, steps: state.steps.slice(0, 1) }, {});
    const write = ACTIONS.find(({ kind }) => kind === "flash");
    const forbidden = (part: Part) =>
      write &&
      hindrance(write.moveFor(wish, part), { ...facts, [`${part}: image fits`]: "yes" }, INVARIANTS)?.forbidden;
    expect(forbidden("main")?.join()).not.toContain("not read out");
    expect(forbidden(esc(1))?.join()).toContain("would destroy what was not read out");
  });

  it("a fact whose name is misspelt is no fact", () => {
    // @ts-expect-error: there is no such property
    const odd: Facts = { "main: shwos": "console" };
    // @ts-expect-error: nor such a subject
    const other: Facts = { "mian: shows": "console" };
    expect([odd, other]).toHaveLength(2);
  });
});
