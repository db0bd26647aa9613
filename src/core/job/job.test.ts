import type { GoalKind } from "@/core/job/goals/goal";
import { planTerms } from "@/core/job/plan-job";
import fc from "fast-check";
import { action, type Action, type JobMove } from "@/core/job/action";
import { ACTIONS, type StepId } from "@/core/job/actions";
import { unmet, type FactName, type Facts } from "@/core/job/fact";
import { termsOf, type Goal } from "@/core/job/goals";
import { checkEntry, readEntry, type Entry } from "@/core/job/journal";
import { planJob, specOf } from "@/core/job/plan-job";
import { after } from "@/core/job/planner";
import { currentStep, foldJob, stepSpec } from "@/core/job/state";
import { hindranceOf, worldOf } from "@/core/job/world";

const refuses = (value: unknown) => {
  try {
    checkEntry(value);
    return false;
  } catch {
    return true;
  }
};

const WISH = { tag: "QW-01", release: { id: "next-2", title: "Next 2" } };
const UPDATE: Goal = { kind: "update", releaseId: "next-2" };
const SET_UP: Goal = { kind: "set-up", releaseId: "next-2", backupId: 34 };
const REVIVE: Goal = { kind: "revive", releaseId: "next-2", backupId: 34 };
const CONSOLE: Facts = { "board: shows": "console" };
const LOADER: Facts = { "board: shows": "loader" };
const idsOf = (goal: Goal, known: Facts, actions: readonly Action[] = ACTIONS) => {
  const planned = planJob(goal, WISH, known, actions);
  return planned.kind === "plan" ? planned.moves.map(({ kind }) => kind) : planned;
};
const moves = ACTIONS.map((action) => action.moveFor(WISH));

describe("jobs as plans", () => {
  it("an update reads out, decides, makes safe, flashes, restores, proves and checks", () => {
    expect(idsOf(UPDATE, CONSOLE)).toEqual([
      "know-board",
      "back-up",
      "know-target",
      "plan",
      "make-safe",
      "enter-loader",
      "rescue",
      "flash",
      "first-start",
      "restore",
      "prove",
      "check-attitude",
      "check-receiver",
      "sign-off",
    ]);
  });

  it("going back to a backup leaves out what touches the firmware, and nothing else", () => {
    const update = idsOf(UPDATE, CONSOLE);
    const left = Array.isArray(update) ? update.filter((id) => ![idsOf(SET_UP, CONSOLE)].flat().includes(id)) : [];
    expect(left).toEqual(["enter-loader", "rescue", "flash", "first-start"]);
  });

  it("a board that shows only its loader is known by it, rescued through it and needs no way into it", () => {
    expect(idsOf(REVIVE, LOADER)).toEqual([
      "know-loader",
      "know-target",
      "plan",
      "make-safe",
      "rescue",
      "flash",
      "first-start",
      "restore",
      "prove",
      "check-attitude",
      "check-receiver",
      "sign-off",
    ]);
    // and if it speaks after all, it is read out first, as in an update
    expect(idsOf(REVIVE, CONSOLE)).toEqual(idsOf(UPDATE, CONSOLE));
  });

  it("says what is missing where there is no way", () => {
    expect(idsOf(UPDATE, LOADER)).toMatchObject({ kind: "none" });
    expect(idsOf(UPDATE, {})).toMatchObject({ kind: "none" });
  });

  it("whatever is known at its beginning, and however its actions are listed, a plan keeps what is forbidden", () => {
    const kept: FactName[] = ["settings: kept", "settings: rescued"];
    const known = fc
      .subarray(moves.flatMap(({ gives }) => Object.keys(gives) as FactName[]))
      .map((names) => Object.fromEntries(names.map((name) => [name, "yes"])) as Facts);
    const shows = fc.constantFrom(CONSOLE, LOADER, {});
    const listed = fc.shuffledSubarray([...ACTIONS], { minLength: ACTIONS.length });
    fc.assert(
      fc.property(fc.constantFrom(UPDATE, SET_UP, REVIVE), known, shows, listed, (goal, facts, seen, actions) => {
        // what is on disk, off or out may be so already; what only a job of its own can know is not
        const told = Object.entries(facts).filter(([name]) => name !== "board: shows" && !name.startsWith("main: "));
        const start = { ...Object.fromEntries(told), ...seen } as Facts;
        const planned = planJob(goal, WISH, start, actions);
        if (planned.kind === "none") return;
        let so: Facts = { ...termsOf(goal).given, ...start };
        for (const move of planned.moves) {
          expect(unmet(so, move.needs)).toEqual([]);
          if (move.destroys.length > 0) expect(kept.some((name) => so[name] !== undefined)).toBe(true);
          if (move.restarts) expect([so["propellers: off"], so["battery: out"]]).toEqual(["yes", "yes"]);
          if (move.destroys.includes("firmware")) expect(so["image: fits"]).toBe("yes");
          so = after(so, move);
        }
        expect(unmet(so, termsOf(goal).wanted)).toEqual([]);
      }),
      { numRuns: 400 },
    );
  });

  it("from a board of which nothing is known, the order that safety wants holds for every listing", () => {
    const before: readonly (readonly [first: StepId, then: StepId])[] = [
      ["know-board", "back-up"],
      ["back-up", "plan"],
      ["know-target", "plan"],
      ["plan", "make-safe"],
      ["make-safe", "enter-loader"],
      ["back-up", "enter-loader"],
      ["enter-loader", "rescue"],
      ["rescue", "flash"],
      ["flash", "first-start"],
      ["first-start", "restore"],
      ["restore", "prove"],
      ["prove", "check-attitude"],
      ["prove", "check-receiver"],
      ["check-attitude", "sign-off"],
      ["check-receiver", "sign-off"],
    ];
    fc.assert(
      fc.property(fc.shuffledSubarray([...ACTIONS], { minLength: ACTIONS.length }), (listed) => {
        const ids = [idsOf(UPDATE, CONSOLE, listed)].flat() as string[];
        expect(before.filter(([first, then]) => !(ids.indexOf(first) < ids.indexOf(then)))).toEqual([]);
      }),
    );
  });

  it("names what it destroys, where it writes and what it shows", () => {
    const told = (fits: (move: JobMove) => unknown) => moves.filter(fits).map(({ kind }) => kind);
    expect(told(({ destroys }) => destroys.includes("firmware"))).toEqual(["lift-protection", "flash"]);
    expect(told(({ destroys }) => destroys.includes("loader"))).toEqual(["replace-loader"]);
    expect(told(({ destroys }) => destroys.includes("settings"))).toEqual([
      "lift-protection",
      "clear-settings",
      "restore",
    ]);
    expect(told(({ writes }) => writes)).toEqual([
      "lift-protection",
      "clear-settings",
      "replace-loader",
      "flash",
      "restore",
    ]);
    expect(told(({ restarts }) => restarts)).toEqual([
      "enter-loader",
      "lift-protection",
      "replace-loader",
      "rest",
      "flash",
      "first-start",
      "restore",
    ]);
    // a sign-off names the checks, and nothing else, as what was shown
    expect(told(({ shows }) => shows)).toEqual(["check-attitude", "check-receiver"]);
  });

  it("takes an action and a goal of its own from outside, without a change here", () => {
    const dry: Action = action("dry", () => ({
      title: "Dry it",
      why: "It fell into the pond.",
      gives: { "board: dry": "yes" },
    }));
    const wet = ACTIONS.map((each): Action =>
      each.kind === "know-board"
        ? { ...each, moveFor: (wish) => ({ ...each.moveFor(wish), needs: { ...CONSOLE, "board: dry": "yes" } }) }
        : each,
    );
    expect([idsOf(UPDATE, CONSOLE, [dry, ...wet])].flat()[0]).toBe("dry");
    // a goal is what is given and what is wanted: here a board that is only dried and read out
    interface Keep {
      readonly kind: "keep";
      readonly board: string;
    }
    const keep: GoalKind<Keep> = {
      kind: "keep",
      given: () => CONSOLE,
      wanted: () => ({ "settings: kept": "yes", "board: dry": "yes" }),
    };
    const goal: Keep = { kind: "keep", board: "wet" };
    const terms = { given: keep.given(goal), wanted: keep.wanted(goal) };
    const planned = planTerms(terms, WISH, {}, [dry, ...wet]);
    expect(planned.kind === "plan" && planned.moves.map(({ kind }) => kind)).toEqual(["dry", "know-board", "back-up"]);
  });
});

describe("the world of a job", () => {
  const fold = (...entries: Entry[]) =>
    foldJob(
      moves.map(specOf),
      entries.map((entry, i) => ({ no: i, at: i * 1000, account: "technician", entry })),
    );

  it("is what was given, what its steps concluded or a person confirmed, and what is seen, which counts most", () => {
    const state = fold(
      { kind: "done", step: "know-board", evidence: "seen", data: {} },
      { kind: "confirmed", step: "make-safe" },
      { kind: "done", step: "make-safe", evidence: "seen", data: {} },
      { kind: "done", step: "enter-loader", evidence: "seen", data: {} },
    );
    const { facts, sources } = worldOf(SET_UP, WISH, state, CONSOLE);
    expect(facts).toEqual({
      "main: runs": "next-2",
      "loader: serves": "yes",
      "board: reads": "yes",
      "settings region: is": "sound",
      "rescue: holds": "settings",
      "settings: chosen": "yes",
      "board: calibrated": "yes",
      "board: known": "yes",
      "propellers: off": "yes",
      "battery: out": "yes",
      "board: shows": "console",
    });
    expect(sources["main: runs"]).toEqual({ how: "given" });
    expect(sources["board: known"]).toEqual({ how: "concluded", step: "know-board", at: 0 });
    expect(sources["propellers: off"]).toEqual({ how: "confirmed", step: "make-safe", by: "technician", at: 2000 });
    expect(sources["board: shows"]).toEqual({ how: "observed" });
    // what a flash undoes is not so any more
    const flashed = fold(
      { kind: "done", step: "enter-loader", evidence: "seen", data: {} },
      { kind: "done", step: "flash", evidence: "seen", data: {} },
    );
    expect(worldOf(SET_UP, WISH, flashed, {}).facts).toMatchObject({
      "settings: chosen": "yes",
      "main: holds": "next-2",
    });
  });

  it("tells what a step lacks; nothing where it can be taken, or where what it brings about is so already", () => {
    expect(hindranceOf("back-up", WISH, LOADER)).toEqual(["board: known", "board: shows console"]);
    expect(hindranceOf("know-board", WISH, CONSOLE)).toEqual([]);
    expect(hindranceOf("know-board", WISH, { ...LOADER, "board: known": "yes" })).toEqual([]);
    expect(hindranceOf("unheard-of", WISH, {})).toEqual([]);
  });

  it("planning anew keeps what has begun, strikes what is not needed and lets in what is", () => {
    const before = fold({ kind: "done", step: "know-board", evidence: "seen", data: {} });
    const steps = [
      { id: "plan", title: "Plan", why: "so" },
      { id: "polish", title: "Polish it", why: "It shines" },
    ];
    const state = fold(
      { kind: "done", step: "know-board", evidence: "seen", data: {} },
      { kind: "noted", step: "plan", text: "odd" },
      { kind: "planned", steps, because: "it is wet" },
    );
    expect(state.steps.map(({ id, status }) => [id, status])).toEqual([
      ["know-board", "done"],
      ["plan", "to-do"],
      ["polish", "to-do"],
    ]);
    expect(state.steps[1]?.notes).toHaveLength(1);
    expect(stepSpec(moves.map(specOf), state.steps[2] ?? { id: "plan" }).title).toBe("Polish it");
    expect(state.struck).toHaveLength(before.steps.length - 2);
    expect(state.struck[0]).toEqual({ id: "know-loader", at: 2000, because: "it is wet" });
  });
});

describe("planning anew, whatever has begun", () => {
  const ids = ["know-board", "back-up", "plan", "flash", "prove"] as const;
  const spec = (id: string) => ({ id, title: `Do ${id}`, why: "so" });
  const begins: fc.Arbitrary<Entry> = fc.oneof(
    fc.constantFrom(...ids).map((step): Entry => ({ kind: "started", step })),
    fc.constantFrom(...ids).map((step): Entry => ({ kind: "done", step, evidence: "seen", data: {} })),
    fc.constantFrom(...ids).map((step): Entry => ({ kind: "interrupted", step, text: "cut" })),
    fc
      .constantFrom(...ids)
      .map((step): Entry => ({ kind: "failed", step, problem: { code: "x", message: "It failed" } })),
  );

  it("no step stands there twice, what has begun stays as it is, and nothing is lost without a word", () => {
    fc.assert(
      fc.property(
        fc.array(begins, { maxLength: 6 }),
        fc.uniqueArray(fc.constantFrom(...ids, "polish"), { minLength: 1, maxLength: 6 }),
        (entries, wanted) => {
          const fold = (...all: Entry[]) =>
            foldJob(
              ids.map((id) => ({ id })),
              all.map((entry, i) => ({ no: i, at: i, account: null, entry })),
            );
          const before = fold(...entries);
          const after = fold(...entries, { kind: "planned", steps: wanted.map(spec), because: "wet" });
          const has = after.steps.map(({ id }) => id);
          expect(new Set(has).size).toBe(has.length);
          const begun = before.steps.filter(({ status }) => status !== "to-do");
          expect(after.steps.slice(0, begun.length)).toEqual(begun);
          for (const id of wanted) expect(has).toContain(id);
          const gone = before.steps.filter(({ id }) => !has.includes(id)).map(({ id }) => id);
          expect(after.struck.map(({ id }) => id)).toEqual(gone);
        },
      ),
    );
  });
});

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
