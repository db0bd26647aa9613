import { planTerms } from "@/core/job/plan-job";
import fc from "fast-check";
import { checkAction, partAction, type Action, type JobMove, type Terms, type Wish } from "@/core/job/action";
import { ACTIONS, type StepName } from "@/core/job/actions";
import { factsOf, unmet, type FactName, type Facts } from "@/core/job/fact";
import { termsOf, type Goal } from "@/core/job/goals";
import type { Entry } from "@/core/job/journal";
import { owedBy, planJob, specOf } from "@/core/job/plan-job";
import { after } from "@/core/job/planner";
import { foldJob, stepSpec } from "@/core/job/state";
import { hindranceOf, worldOf } from "@/core/job/world";

const UPDATE: Goal = { kind: "update", runs: { main: "next-2" } };
const SET_UP: Goal = { kind: "set-up", runs: { main: "next-2" }, backupId: 34 };
const REVIVE: Goal = { kind: "revive", runs: { main: "next-2" }, backupId: 34 };
const wishOf = (terms: Terms): Wish => ({
  tag: "QW-01",
  parts: { main: { release: { id: "next-2", title: "Next 2" } } },
  batteries: ["battery"],
  owed: owedBy(terms),
});
const WISH = wishOf(termsOf(UPDATE));
const CONSOLE: Facts = { "main: shows": "console" };
const LOADER: Facts = { "main: shows": "loader" };
const idsOf = (goal: Goal, known: Facts, actions: readonly Action[] = ACTIONS) => {
  const planned = planJob(goal, wishOf(termsOf(goal)), known, actions);
  return planned.kind === "plan" ? planned.moves.map(({ kind }) => kind) : planned;
};
/** Every move that there is for one part, and the loader of it. */
const WHOLE: Wish = { ...WISH, parts: { ...WISH.parts, "main loader": {} } };
const moves = ACTIONS.flatMap((each) => each.subjects(WHOLE).map((subject) => each.moveFor(WHOLE, subject)));

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
    const kept: FactName[] = ["main: settings kept", "main: settings rescued"];
    const known = fc
      .subarray(moves.flatMap(({ gives }) => Object.keys(gives) as FactName[]))
      .map((names) => Object.fromEntries(names.map((name) => [name, "yes"])) as Facts);
    const shows = fc.constantFrom(CONSOLE, LOADER, {});
    const listed = fc.shuffledSubarray([...ACTIONS], { minLength: ACTIONS.length });
    fc.assert(
      fc.property(fc.constantFrom(UPDATE, SET_UP, REVIVE), known, shows, listed, (goal, facts, seen, actions) => {
        // what is on disk, off or out may be so already; what only a job of its own can know is not
        const told = Object.entries(facts).filter(([name]) => name !== "main: shows" && !name.startsWith("main: "));
        const start = { ...Object.fromEntries(told), ...seen } as Facts;
        const planned = planJob(goal, wishOf(termsOf(goal)), start, actions);
        if (planned.kind === "none") return;
        let so: Facts = { ...termsOf(goal).given, ...start };
        for (const move of planned.moves) {
          expect(unmet(so, move.needs)).toEqual([]);
          if (move.destroys.length > 0) expect(kept.some((name) => so[name] !== undefined)).toBe(true);
          if (move.restarts) expect([so["aircraft: propellers off"], so["battery: is"]]).toEqual(["yes", "out"]);
          if (move.destroys.some(({ what }) => what === "firmware")) expect(so["main: image fits"]).toBe("yes");
          so = after(so, move);
        }
        expect(unmet(so, termsOf(goal).wanted)).toEqual([]);
      }),
      { numRuns: 400 },
    );
  });

  it("from a board of which nothing is known, the order that safety wants holds for every listing", () => {
    const before: readonly (readonly [first: StepName, then: StepName])[] = [
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
    const destroying = (subject: string, thing: string) =>
      told(({ destroys }) => destroys.some(({ of, what }) => of === subject && what === thing));
    expect(destroying("main", "firmware")).toEqual(["lift-protection", "flash"]);
    expect(destroying("main loader", "firmware")).toEqual(["replace-loader"]);
    expect(destroying("main", "settings")).toEqual(["lift-protection", "clear-settings", "restore"]);
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
    const dry: Action = partAction("dry", (_, part) => ({
      title: "Dry it",
      why: "It fell into the pond.",
      gives: factsOf(part, { speaks: "yes" }),
    }));
    const wet = ACTIONS.map((each): Action =>
      each.kind === "know-board"
        ? {
            ...each,
            moveFor: (wish, part) => ({ ...each.moveFor(wish, part), needs: { ...CONSOLE, "main: speaks": "yes" } }),
          }
        : each,
    );
    expect([idsOf(UPDATE, CONSOLE, [dry, ...wet])].flat()[0]).toBe("dry");
    // a goal is what is given and what is wanted: here a board that is only dried and read out
    const terms: Terms = { given: CONSOLE, wanted: { "main: settings kept": "yes", "main: speaks": "yes" } };
    const planned = planTerms(terms, wishOf(terms), {}, [dry, ...wet]);
    expect(planned.kind === "plan" && planned.moves.map(({ kind }) => kind)).toEqual(["dry", "know-board", "back-up"]);
  });

  it("what a sign-off answers for follows from what is wanted: without settings that change, no proof and no check", () => {
    const keeps: Terms = {
      given: CONSOLE,
      wanted: { "main: settings kept": "yes", "visit: signed off": "yes" },
    };
    const planned = planTerms(keeps, wishOf(keeps), {});
    expect(planned.kind === "plan" && planned.moves.map(({ id }) => id)).toEqual(["know-board", "back-up", "sign-off"]);
  });

  it("a check is called for by some jobs and not by others, each by its own terms", () => {
    const ends = checkAction(
      "receiver",
      ({ wanted }) => (wanted["main: runs"] === "next-2" ? "next 2 arms otherwise" : undefined),
      () => ({ title: "Ends", why: "so" }),
    );
    const rest = ACTIONS.filter(({ kind }) => kind !== "check-receiver");
    const stepsTo = (goal: Goal) => {
      const wish = { ...WISH, owed: owedBy(termsOf(goal), [...rest, ends]) };
      const planned = planJob(goal, wish, CONSOLE, [...rest, ends]);
      return planned.kind === "plan" ? planned.moves.map(({ id }) => id) : planned;
    };
    expect(stepsTo(UPDATE)).toContain("check-receiver");
    expect(stepsTo(SET_UP)).not.toContain("check-receiver");
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
      "main loader: serves": "yes",
      "main: reads": "yes",
      "main: settings region": "sound",
      "main: rescue holds": "settings",
      "main: settings chosen": "yes",
      "main: calibrated": "yes",
      "main: known": "yes",
      "aircraft: propellers off": "yes",
      "battery: is": "out",
      "main: shows": "console",
    });
    expect(sources["main: runs"]).toEqual({ how: "given" });
    expect(sources["main: known"]).toEqual({ how: "concluded", step: "know-board", at: 0 });
    expect(sources["aircraft: propellers off"]).toEqual({
      how: "confirmed",
      step: "make-safe",
      by: "technician",
      at: 2000,
    });
    expect(sources["main: shows"]).toEqual({ how: "observed" });
    // what a flash undoes is not so any more
    const flashed = fold(
      { kind: "done", step: "enter-loader", evidence: "seen", data: {} },
      { kind: "done", step: "flash", evidence: "seen", data: {} },
    );
    expect(worldOf(SET_UP, WISH, flashed, {}).facts).toMatchObject({
      "main: settings chosen": "yes",
      "main: holds": "next-2",
    });
  });

  it("tells what a step lacks; nothing where it can be taken, or where what it brings about is so already", () => {
    expect(hindranceOf("back-up", WISH, LOADER)).toEqual(["main: known", "main: shows console"]);
    expect(hindranceOf("know-board", WISH, CONSOLE)).toEqual([]);
    expect(hindranceOf("know-board", WISH, { ...LOADER, "main: known": "yes" })).toEqual([]);
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
