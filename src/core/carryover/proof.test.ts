import fc from "fast-check";
import {
  asPlanned,
  choiceOf,
  offGroups,
  openItems,
  planUpdate,
  proofSentence,
  proveRestore,
  SCOPE_KINDS,
  sentPlaces,
  scriptOf,
  settlePlan,
  waysOf,
  withScope,
  writerFor,
  type Decisions,
  type LineAnswer,
  type Plan,
  type Proof,
} from "@/core/carryover";
import { defaultOf, findTarget, indexOf, type Release } from "@/core/catalog";
import { addressId, equalValues, rowId, showValue, type Configuration } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { configurations } from "../../../tests/support/configurations";
import { catalogue, release } from "../../../tests/support/workshop";

/** Ways of every kind: the next release, over two, on to a fork, back, within one, to another family. */
/** Many more in the soak. */
const runs = (few: number) => Number(process.env.SOAK ?? few);

const WAYS = [
  ["heddle-22", "heddle-23", "CSLATE-B"],
  ["heddle-19", "heddle-24", "CSLATE-B"],
  ["heddle-22", "weft-9", "PWEIR"],
  ["weft-8", "weft-9", "PWEIR"],
  ["weft-9", "heddle-22", "PWEIR"],
  ["heddle-23", "heddle-22", "CSLATE-B"],
  ["treadle-71", "treadle-80", "FGULL"],
  ["heddle-22", "bobbin-41", "CSLATE-B"],
] as const;

interface Trial {
  readonly to: Release;
  readonly plan: Plan;
  readonly decisions: Decisions;
}

const trials = WAYS.map(([fromId, toId, target]) => {
  const [from, to] = [release(fromId), release(toId)];
  const found = findTarget(from, target);
  if (!found || !findTarget(to, target)) throw new Error(`${fromId} to ${toId}: no ${target}`);
  const any = configurations(from, { family: from.family, release: from.version, target: found.id });
  const told = fc.sample(any, { numRuns: 3, seed: 7 });
  return fc
    .record({ told: fc.constantFrom(...told), pick: fc.array(fc.nat(7), { minLength: 40, maxLength: 40 }) })
    .map(({ told: configuration, pick }): Trial => {
      const plan = valueOf(planUpdate({ configuration, release: from }, to, target, catalogue()));
      const decisions = Object.fromEntries(
        openItems(plan, {}).map((item, i) => [
          item.id,
          item.choices[(pick[i % 40] ?? 0) % item.choices.length]?.id ?? "",
        ]),
      );
      // now and then something that asks nothing is left behind all the same
      const stays = plan.items.filter(
        (item, i) => item.choices.length === 0 && waysOf(item).length > 0 && (pick[i % 40] ?? 0) === 7,
      );
      return { to, plan, decisions: { ...decisions, ...Object.fromEntries(stays.map(({ id }) => [id, "stay"])) } };
    });
});
const anyTrial = fc.oneof(...trials);

/** What a board did with a script: dropped, changed or refused some of it, and holds things of its own. */
const boards = fc.record({
  dropped: fc.uniqueArray(fc.nat(10_000), { maxLength: 4 }),
  defaulted: fc.uniqueArray(fc.nat(10_000), { maxLength: 4 }),
  refused: fc.uniqueArray(fc.nat(10_000), { maxLength: 4 }),
  rowsDropped: fc.uniqueArray(fc.nat(100), { maxLength: 2 }),
  otherTune: fc.boolean(),
});

function played({ to, plan, decisions }: Trial, board: typeof boards extends fc.Arbitrary<infer B> ? B : never) {
  const settled = settlePlan(plan, decisions, to);
  if (!settled.ok) return undefined;
  const document = catalogue().idioms.get(to.idiom);
  if (!document) throw new Error(to.idiom);
  const script = scriptOf(settled.value, to, writerFor(to, idiomOf(document)));
  const { settings, rows, active } = settled.value.configuration;
  const hit = (list: readonly number[], of: number, i: number) => list.some((n) => n % of === i);
  const readBack: Configuration = {
    identity: { target: plan.to.target },
    settings: settings.flatMap((entry, i) => {
      if (hit(board.dropped, settings.length, i)) return [];
      const setting = indexOf(to).settings.get(entry.key);
      const value =
        setting && hit(board.defaulted, settings.length, i) ? defaultOf(setting, plan.to.target) : entry.value;
      return [{ ...entry, value, line: i + 1 }];
    }),
    rows: rows.filter((_, i) => !hit(board.rowsDropped, Math.max(1, rows.length), i)),
    active: board.otherTune ? { ...active, tune: (active.tune ?? 1) + 1 } : active,
    unknown: settled.value.lines.map(({ text, scope }, i) => ({ text, scope, line: 900 + i, reason: "foreign" })),
  };
  const answers: LineAnswer[] = script.map((_, i) =>
    hit(board.refused, script.length, i)
      ? { line: i + 1, answer: "refused", cause: "not-here" }
      : { line: i + 1, answer: "accepted" },
  );
  const proof = proveRestore({ release: to, plan, decisions, script, answers, readBack });
  return { proof, readBack, settled: settled.value };
}

/** Whether the board holds what the plan and its decisions say, worked out without the proof's means. */
function holds(
  item: Plan["items"][number],
  { to, plan, decisions }: Trial,
  readBack: Configuration,
): boolean | undefined {
  const choice = choiceOf(item, decisions);
  if (item.kind === "line")
    return choice?.id === "send" ? readBack.unknown.some((u) => u.text === item.from.text) : undefined;
  if (item.kind === "setting") {
    const value = item.choices.length > 0 || choice ? choice?.value : item.to?.value;
    if (value === undefined) return undefined;
    const back = readBack.settings.find((entry) => addressId(entry) === item.id);
    const type = to.settings.find((setting) => setting.key === back?.key)?.type;
    return back !== undefined && type !== undefined && equalValues(back.value, value, type);
  }
  const place = item.choices.length > 0 || choice ? choice?.row : item.to;
  if (!place) return undefined;
  const moves = plan.items.flatMap((other) => choiceOf(other, decisions)?.moves ?? []);
  const key = moves.find(({ itemId }) => itemId === item.id)?.key ?? place.key;
  return readBack.rows.some(
    (row) => row.table === item.table && row.key === key && JSON.stringify(row.cells) === JSON.stringify(place.cells),
  );
}

const green = (proof: Proof) => asPlanned(proof) && proofSentence(proof).startsWith("All ");

describe("the proof is of the plan", () => {
  it("accounts for every item exactly once, and for nothing that was not there", () => {
    fc.assert(
      fc.property(anyTrial, boards, (trial, board) => {
        const ids = trial.plan.items.map((item) => item.id);
        expect(new Set(ids).size).toBe(ids.length);
        const done = played(trial, board);
        if (!done) return;
        const { values, counts } = done.proof;
        const own = values.filter(({ id }) => !id.startsWith("on board ")).map(({ id }) => id);
        expect(own).toEqual(ids);
        expect(Object.values(counts).reduce((a, b) => a + b)).toBe(values.length);
        for (const value of values.filter(({ id }) => id.startsWith("on board ")))
          expect(value.result).toBe("uninvited");
      }),
      { numRuns: runs(40), endOnFailure: true },
    );
  });

  it("says took of what the board holds as planned and of nothing else; no green sentence while anything is otherwise", () => {
    fc.assert(
      fc.property(anyTrial, boards, (trial, board) => {
        const done = played(trial, board);
        if (!done) return;
        const { proof, readBack } = done;
        const results = new Map(proof.values.map(({ id, result }) => [id, result]));
        let all = true;
        for (const item of trial.plan.items) {
          const held = holds(item, trial, readBack);
          const result = results.get(item.id);
          if (held === undefined)
            expect([item.id, ["left-behind", "could-not-come"].includes(result ?? "")]).toEqual([item.id, true]);
          else expect([item.id, result === "took"]).toEqual([item.id, held]);
          all &&= held !== false;
        }
        // the sentence counts each result once, and says nothing of what there is none of
        const n = (...results: string[]) => proof.values.filter(({ result }) => results.includes(result)).length;
        const carried = proof.values.length - n("left-behind", "could-not-come");
        const chosen = proof.values.filter(({ result, by }) => result === "left-behind" && by !== undefined).length;
        const told = (count: number, what: string) => (count === 0 ? [] : [`${count} ${what}`]);
        const off = [
          ...told(n("adjusted"), "adjusted by the board"),
          ...told(n("refused"), "refused"),
          ...told(n("missing"), "missing"),
          ...told(n("uninvited"), "changed uninvited"),
          ...(proof.activeAsPlanned ? [] : ["another profile is active than planned"]),
        ];
        const rest = [
          ...told(chosen, "left behind by somebody"),
          ...told(n("left-behind") - chosen, "kept by the firmware itself"),
          ...told(n("could-not-come"), "have no place in the new release"),
        ];
        const first =
          off.length === 0
            ? `All ${carried} values took, read back from the board.`
            : `${n("took")} of ${carried} values took; ${off.join(", ")}.`;
        expect(proofSentence(proof).replace(/left behind by [^,.]*/, "left behind by somebody")).toBe(
          rest.length === 0 ? first : `${first} Not carried: ${rest.join(", ")}.`,
        );
        const uninvited = proof.values.some(({ result }) => result === "uninvited");
        expect(green(proof)).toBe(all && !uninvited && proof.activeAsPlanned);
      }),
      { numRuns: runs(40), endOnFailure: true },
    );
  });
});

describe("what a plan says that it sends", () => {
  it("has a line in the script, and nothing else has", () => {
    fc.assert(
      fc.property(anyTrial, ({ to, plan, decisions }) => {
        const settled = settlePlan(plan, decisions, to);
        const document = catalogue().idioms.get(to.idiom);
        if (!settled.ok || !document) return;
        const script = scriptOf(settled.value, to, writerFor(to, idiomOf(document)));
        const own = new Set(settled.value.configuration.settings.map(addressId));
        const written = new Set(script.flatMap(({ itemId = "" }) => (own.has(itemId) ? [itemId] : [])));
        const said = [...sentPlaces(settled.value, to)].filter((id) => own.has(id));
        expect(said.toSorted()).toEqual([...written].toSorted());
      }),
      { numRuns: runs(20) },
    );
  });
});

describe("what was not to come along", () => {
  it("is left behind only where the board holds what stands in its place; refused or missing is told as that", () => {
    let told = 0;
    const scopes = fc.constantFrom(...SCOPE_KINDS.filter((kind) => kind !== "everything" && kind !== "chosen"));
    fc.assert(
      fc.property(anyTrial, scopes, boards, ({ to, plan: whole }, kind, board) => {
        const plan = withScope(whole, { kind }, to);
        const decisions = Object.fromEntries(openItems(plan, {}).map(({ id, choices }) => [id, choices[0]?.id ?? ""]));
        const trial = { to, plan, decisions };
        const done = played(trial, board);
        if (!done) return;
        const results = new Map(done.proof.values.map(({ id, result }) => [id, result]));
        for (const item of plan.items) {
          if (item.kind !== "setting" || item.scoped === undefined) continue;
          const held = holds(item, trial, done.readBack);
          if (held === undefined) continue;
          expect([item.id, results.get(item.id) === "left-behind"]).toEqual([item.id, held]);
          if (held) continue;
          told++;
          expect(asPlanned(done.proof)).toBe(false);
        }
      }),
      { numRuns: runs(25), endOnFailure: true },
    );
    // the boards did refuse and lose some of them
    expect(told).toBeGreaterThan(0);
  });
});

describe("what came out otherwise", () => {
  it("stands in exactly one group by cause, the largest first, with what lies behind it; what took stands in none", () => {
    fc.assert(
      fc.property(anyTrial, boards, (trial, board) => {
        const done = played(trial, board);
        if (!done) return;
        const groups = offGroups(done.proof, trial.to);
        const off = done.proof.values.filter(({ result }) => ["refused", "adjusted", "missing"].includes(result));
        expect(groups.reduce((sum, { values }) => sum + values, 0)).toBe(off.length);
        expect([...new Set(groups.flatMap(({ titles }) => titles))].toSorted()).toEqual(
          [...new Set(off.map(({ title }) => title))].toSorted(),
        );
        const sizes = groups.map(({ values }) => values);
        expect(sizes).toEqual(sizes.toSorted((a, b) => b - a));
        for (const { cause, root } of groups) expect(Math.min(cause.length, root.length)).toBeGreaterThan(10);
      }),
      { numRuns: runs(30), endOnFailure: true },
    );
  });

  it("is laid to what the values want and the board does not have, before any other cause", () => {
    const to = release("heddle-23");
    const wish = to.settings.find(({ wants }) => wants !== undefined && !wants.key.includes(" "));
    const wanted = to.settings.find(({ key }) => key === wish?.wants?.key);
    if (!wish?.wants || !wanted) throw new Error("no setting of the release wants another");
    const proved = (key: string, result: "took" | "refused", found: string) => ({
      ...{ id: `system/${key}`, title: key, area: "x", result, found, sentLine: 1, readLine: 1, flies: true },
    });
    const isOn = showValue(wish.wants.is, wanted.type);
    const values = (found: string) => [proved(wish.key, "refused", "-"), proved(wanted.key, "took", found)];
    expect(offGroups({ values: values("something else") }, to)[0]?.root).toContain(
      `${wanted.title} is something else on the board, and these want it to be ${isOn}`,
    );
    expect(offGroups({ values: values(isOn) }, to)[0]?.root).not.toContain("want it to be");
  });
});

describe("what would come along unasked", () => {
  it("can be left behind and taken along again; nothing of it is sent, and the proof says that it was left on purpose", () => {
    fc.assert(
      fc.property(anyTrial, (trial) => {
        const stays = trial.plan.items.filter(({ id }) => trial.decisions[id] === "stay");
        const board = { dropped: [], defaulted: [], refused: [], rowsDropped: [], otherTune: false };
        const done = played(trial, board);
        if (!done) return;
        const results = new Map(done.proof.values.map(({ id, result }) => [id, result]));
        const held = new Set(done.settled.configuration.settings.map(addressId));
        for (const { id } of stays) expect([results.get(id), held.has(id)]).toEqual(["left-behind", false]);
        const again = Object.fromEntries(
          Object.entries(trial.decisions).map(([id, choice]) => [id, choice === "stay" ? "come" : choice]),
        );
        const all = valueOf(settlePlan(trial.plan, again, trial.to)).configuration;
        const unasked = Object.fromEntries(Object.entries(again).filter(([, choice]) => choice !== "come"));
        expect(all).toEqual(valueOf(settlePlan(trial.plan, unasked, trial.to)).configuration);
      }),
      { numRuns: runs(25), endOnFailure: true },
    );
  });
});

describe("case C13: what cannot be there", () => {
  it("always waits for a decision; the last way out is a lead's; whatever is decided, no row stands where it cannot", () => {
    fc.assert(
      fc.property(anyTrial, (trial) => {
        const { plan, decisions, to } = trial;
        for (const item of plan.items) {
          if (item.outcome !== "cannot-be-here") continue;
          expect([item.id, item.kind === "row" && item.to]).toEqual([item.id, undefined]);
          expect(item.choices.at(-1)).toMatchObject({ by: "lead" });
          expect(item.choices.at(-1)?.means ?? "").not.toBe("");
          expect(openItems(plan, { ...decisions, [item.id]: "" })).toContain(item);
        }
        const settled = settlePlan(plan, decisions, to);
        if (!settled.ok) {
          expect(settled.problem.code).toBe("plan-rows");
          return;
        }
        const { rows } = settled.value.configuration;
        expect(new Set(rows.map(rowId)).size).toBe(rows.length);
        const target = findTarget(to, plan.to.target);
        for (const row of rows)
          if (row.table === "ports") {
            expect([row.key, target?.ports.includes(Number(row.key))]).toEqual([row.key, true]);
            if (to.id === "weft-9" && row.cells.use === "receiver") expect(row.key).toBe("4");
          }
      }),
      { numRuns: runs(50), endOnFailure: true },
    );
  });

  it("a receiver on port 2 for a release that serves it on 4 only: both wires, or leave it off; who serves it is named", () => {
    const from = release("weft-8");
    const told = fc.sample(configurations(from, { target: "PWEIR" }), { numRuns: 1, seed: 3 })[0];
    if (!told) throw new Error("nothing drawn");
    const ports = [
      { table: "ports", key: "2", cells: { use: "receiver", speed: "420000" }, line: 1 },
      { table: "ports", key: "4", cells: { use: "telemetry", speed: "57600" }, line: 2 },
    ];
    const plan = valueOf(
      planUpdate({ configuration: { ...told, rows: ports }, release: from }, release("weft-9"), "PWEIR", catalogue()),
    );
    const item = plan.items.find((each) => each.kind === "row" && each.from?.key === "2");
    expect(item).toMatchObject({
      outcome: "cannot-be-here",
      choices: [
        { id: "to-4", label: "Wire it to port 4, what is there to 2", moves: { itemId: "row ports/4", key: "2" } },
        { id: "leave-off", by: "lead", means: "Without a receiver nobody can steer the aircraft." },
      ],
    });
    expect(item?.kind === "row" && item.servedBy?.[0]).toBe("Weft 8");
    const decisions = Object.fromEntries(openItems(plan, {}).map((each) => [each.id, each.choices[0]?.id ?? ""]));
    const { rows } = valueOf(settlePlan(plan, decisions, release("weft-9"))).configuration;
    expect(rows.filter((row) => row.table === "ports").map(({ key, cells }) => [key, cells.use])).toEqual([
      ["4", "receiver"],
      ["2", "telemetry"],
    ]);
  });
});
