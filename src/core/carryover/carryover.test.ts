import fc from "fast-check";
import { addressId, settingsByAddress, type Configuration, type Value } from "@/core/config";
import { findTarget } from "@/core/catalog";
import { defaultConfiguration } from "@/core/idiom";
import { planCarryover } from "@/core/carryover/compute";
import { planUpdate } from "@/core/carryover/update";
import { openDecisions, openItems, type Plan, type PlanItem, type SettingItem } from "@/core/carryover/plan";
import { proofSentence, proveRestore } from "@/core/carryover/proof";
import { routeBetween } from "@/core/carryover/route";
import { scriptOf } from "@/core/carryover/script";
import { settlePlan } from "@/core/carryover/settle";
import { writerFor } from "@/core/carryover/writer";
import { valueOf } from "@/core/problem";
import { catalogue, release, statementIdiom } from "../../../tests/support/workshop";
import {
  madeCatalogue,
  nextRelease,
  number,
  releaseIn,
  setting,
  wholeRelease,
  writtenValues,
} from "../../../tests/support/made";

const [from, to] = [release("heddle-22"), release("heddle-23")];
const IDENTITY = { family: "Heddle", release: "22", target: "CSLATE-B" };

/** The defaults of Heddle 22 with some values moved by hand. */
function moved(values: Readonly<Record<string, Value>>, more: Partial<Configuration> = {}): Configuration {
  const base = defaultConfiguration(from, "CSLATE-B", IDENTITY);
  return {
    ...base,
    settings: base.settings.map((s) => ({ ...s, value: values[addressId(s)] ?? s.value, line: 7 })),
    ...more,
  };
}

const planFor = (configuration: Configuration): Plan =>
  valueOf(planUpdate({ configuration, release: from }, to, "CSLATE-B", catalogue()));
function item(plan: Plan, id: string): SettingItem {
  const found = plan.items.find((i) => i.id === id);
  if (found?.kind !== "setting") throw new Error(`the plan has no setting ${id}`);
  return found;
}
const firstChoices = (plan: Plan) => Object.fromEntries(openItems(plan, {}).map((i) => [i.id, i.choices[0]?.id ?? ""]));

describe("the plan from Heddle 22 to 23", () => {
  const plan = planFor(
    moved({
      "system/loop.rate": 9,
      "system/gyro.smoothing.kind": "steep",
      "feel 1/yaw.turn-rate": 2.79,
      "system/return.speed": 20,
    }),
  );

  it("case C05: a retired setting is dropped with its reason and holds nothing up", () => {
    expect(item(plan, "system/gyro.range")).toMatchObject({
      outcome: "retired",
      choices: [],
      trail: [{ why: "Heddle 23 always uses the widest range." }],
    });
  });

  it("case C06: renamed, rescaled, mapped, split, merged and moved, each with its trail", () => {
    expect(item(plan, "system/aircraft.label")).toMatchObject({ outcome: "renamed", from: { key: "craft.label" } });
    expect(item(plan, "feel 1/feel.yaw.rate")).toMatchObject({
      outcome: "converted",
      from: { shown: "2.79 rad/s" },
      to: { shown: "160 °/s" },
    });
    expect(item(plan, "battery 2/battery.cell.low").to?.shown).toBe("3.50 V");
    expect(item(plan, "system/gyro.smoothing.kind").to?.value).toBe("second-order");
    expect(item(plan, "tune 5/brake.smoothing.second")).toMatchObject({
      outcome: "converted",
      from: { key: "brake.smoothing" },
      to: { value: 75 },
    });
    expect(item(plan, "system/climb.most")).toMatchObject({ outcome: "converted", to: { value: 2 } });
    expect(item(plan, "battery 3/mixer.battery-even")).toMatchObject({
      from: { scope: "system" },
      to: { scope: "battery 3" },
    });
  });

  it("case C07: a default that moved under a value nobody set is silent, and yours to call", () => {
    const silent = item(plan, "tune 1/roll.hold-strength");
    expect(silent).toMatchObject({ outcome: "your-call", call: "silent", from: { moved: false, value: 40 } });
    expect(silent.choices.map((c) => c.label)).toEqual(["Keep 40", "Take 45"]);
    // set by hand, it is as it was, even though the default moved
    expect(item(planFor(moved({ "tune 1/roll.hold-strength": 44 })), "tune 1/roll.hold-strength").outcome).toBe(
      "as-it-was",
    );
  });

  it("case C07: also where the backup holds moved values only and the setting is in no file", () => {
    const absent = { ...moved({}), settings: [] };
    expect(item(planFor(absent), "system/gyro.smoothing")).toMatchObject({
      call: "silent",
      from: { value: 90, line: 0 },
    });
  });

  it("case C08: same number, other effect: never carried quietly; the number that feels as before is offered", () => {
    expect(item(plan, "system/motor.rest")).toMatchObject({ outcome: "your-call", call: "behaviour" });
    expect(item(plan, "system/motor.rest").choices.map((c) => c.label)).toEqual(["Make it 6.8 %", "Keep 5.5 %"]);
  });

  it("case C09, case C51: outside the new range, or beyond this processor: limited, and it needs a nod", () => {
    expect(item(plan, "system/loop.rate")).toMatchObject({
      outcome: "limited",
      to: { shown: "8 kHz" },
      choices: [{ id: "accept" }],
    });
    expect(item(plan, "system/loop.rate").trail.at(-1)?.why).toBe("Nettle 20 runs Heddle 23 at 8 kHz at most");
    expect(item(plan, "system/return.speed")).toMatchObject({ outcome: "limited", to: { shown: "15.0 m/s" } });
  });

  it("case C10: a line that nobody understands is offered as it is or left out", () => {
    const odd = planFor(
      moved({}, { unknown: [{ line: 9, text: "put secret.sauce 7", scope: "system", reason: "no such setting" }] }),
    );
    expect(odd.items.at(-1)).toMatchObject({ kind: "line", outcome: "your-call" });
    const decisions = { ...firstChoices(odd), "line 9": "send" };
    const script = scriptOf(valueOf(settlePlan(odd, decisions, to)), to, writerFor(to, statementIdiom()));
    expect(script.map((line) => line.text)).toContain("put secret.sauce 7");
  });

  it("case C31: what the firmware keeps for itself is left out", () => {
    expect(item(plan, "system/house.starter").outcome).toBe("left-out");
  });

  it("calibration goes with the same board, and stays behind on another", () => {
    const source = moved({ "system/gyro.zero.x": 0.4 });
    expect(item(planFor(source), "system/gyro.zero.x").outcome).toBe("as-it-was");
    const target = findTarget(to, "CSLATE-B");
    if (!target) throw new Error("no target");
    const route = valueOf(routeBetween(catalogue(), from, to));
    const other = planCarryover({ source, from, to, target, route, whose: "this-aircraft" });
    expect(item(other, "system/gyro.zero.x").outcome).toBe("left-out");
  });

  it("case C52: a new setting that can limit flight is listed with its default and what it does", () => {
    expect(item(plan, "system/ceiling.hard")).toMatchObject({
      outcome: "new-default",
      to: { shown: "120 m" },
      restricts: "It stops climbing at 120 m above the start",
    });
  });

  it("counts decisions as they are taken: alike in several profiles is one", () => {
    expect(openItems(planFor(moved({})), {}).length).toBe(15);
    expect(openDecisions(planFor(moved({})), {})).toBe(7);
  });

  it("rows keep their key; renamed columns and mapped words are followed", () => {
    const rows = [{ table: "switches", key: "1", cells: { does: "arm", channel: 5, from: 1700, to: 2100 }, line: 3 }];
    const row = planFor(moved({}, { rows })).items.find((i: PlanItem) => i.id === "row switches/1");
    expect(row).toMatchObject({
      kind: "row",
      outcome: "renamed",
      to: { key: "1", cells: { action: "arm", channel: 5 } },
    });
  });

  it("is the same to the byte for the same inputs, whatever they are", () => {
    const numbers = from.settings
      .filter((s) => s.type.kind === "number" && s.scope === "system")
      .map((s) => `system/${s.key}`);
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom(...numbers), fc.integer({ min: 0, max: 20 })), (values) => {
        const [one, two] = [planFor(moved(values)), planFor(structuredClone(moved(values)))];
        expect(JSON.stringify(one)).toBe(JSON.stringify(two));
        const script = (plan: Plan) =>
          scriptOf(valueOf(settlePlan(plan, firstChoices(plan), to)), to, writerFor(to, statementIdiom()));
        expect(script(one)).toEqual(script(two));
        // whatever was carried fits the new release
        const settled = valueOf(settlePlan(one, firstChoices(one), to)).configuration;
        for (const setting of to.settings) {
          const value = settingsByAddress(settled).get(`system/${setting.key}`)?.value;
          if (setting.type.kind === "number" && typeof value === "number")
            expect(value >= setting.type.min && value <= setting.type.max).toBe(true);
        }
      }),
      { numRuns: 30 },
    );
  });

  it("refuses to settle with open decisions", () => {
    const open = settlePlan(plan, {}, to);
    expect(!open.ok && open.problem.code).toBe("plan-open");
  });
});

describe("the restore script", () => {
  const plan = planFor(moved({}, { active: { tune: 2, feel: 1, battery: 1 } }));
  const script = scriptOf(
    valueOf(settlePlan(plan, firstChoices(plan), to)),
    to,
    writerFor(to, statementIdiom(), "sedge-7"),
  );
  const at = (text: string) => script.findIndex((line) => line.text === text);

  it("wipe first, then the starter set, then values, tables, profiles, and the active ones last", () => {
    expect(script.slice(0, 2).map((l) => l.text)).toEqual(["forget", "starter sedge-7"]);
    expect(at("clear ports")).toBeGreaterThan(at("put loop.rate 4"));
    expect(at("use tune 1")).toBeGreaterThan(at("clear picture"));
    expect(script.slice(-3).map((l) => l.text)).toEqual(["use tune 2", "use feel 1", "use battery 1"]);
  });

  it("a line that has to be repeated begins again where its profile or table was chosen", () => {
    const line = script.find((l) => l.itemId === "tune 4/roll.push");
    expect(script[line?.anchor ?? 0]?.text).toBe("use tune 4");
  });
});

describe("the script's anchors, and what the destination has fewer of", () => {
  it("a row that has to be repeated begins again where its table was cleared: nothing is doubled or lost", () => {
    const plan = planFor(moved({}));
    const script = scriptOf(valueOf(settlePlan(plan, firstChoices(plan), to)), to, writerFor(to, statementIdiom()));
    const rows = script.flatMap((line, i) => (line.itemId?.startsWith("row ") ? [[line, i] as const] : []));
    expect(rows.length).toBeGreaterThan(3);
    for (const [line, at] of rows) {
      const [, table = ""] = line.text.split(" ");
      expect([line.text, script[line.anchor]?.text, line.anchor < at]).toEqual([line.text, `clear ${table}`, true]);
    }
  });

  it("an active profile that the destination does not have is its last one", () => {
    const small = madeCatalogue(
      wholeRelease("five-1", [setting("a", number(0, 9), 1, { scope: "tune" })], {
        profiles: [{ kind: "tune", title: "Tune", count: 5 }],
      }),
      nextRelease("five-2", "five-1", [], { profiles: [{ kind: "tune", title: "Tune", count: 2 }] }),
    );
    const [from, now] = [releaseIn(small, "five-1"), releaseIn(small, "five-2")];
    const plan = valueOf(
      planUpdate({ configuration: writtenValues({}, { active: { tune: 4 } }), release: from }, now, "T1", small),
    );
    expect(plan.active).toEqual({ tune: 2 });
    const within = valueOf(
      planUpdate({ configuration: writtenValues({}, { active: { tune: 1 } }), release: from }, now, "T1", small),
    );
    expect(within.active).toEqual({ tune: 1 });
  });
});

describe("case C32: the proof", () => {
  const plan = planFor(moved({}));
  const settled = valueOf(settlePlan(plan, firstChoices(plan), to));
  const script = scriptOf(settled, to, writerFor(to, statementIdiom()));
  const readBack = (change: (s: Configuration["settings"][number]) => Configuration["settings"]): Configuration => ({
    ...settled.configuration,
    settings: settled.configuration.settings.flatMap((s) => change({ ...s, line: 5 })),
  });
  const lineOf = (id: string) => script.findIndex((l) => l.itemId === id) + 1;

  it("tells took, adjusted, refused and missing, each with its cause, in one sentence", () => {
    const proof = proveRestore({
      release: to,
      plan,
      decisions: firstChoices(plan),
      script,
      answers: [{ line: lineOf("system/log.to"), answer: "refused", cause: "not-here" }],
      readBack: readBack((s) => {
        if (s.key === "loop.rate") return [{ ...s, value: 3 }];
        if (s.key === "log.to") return [{ ...s, value: "card" }];
        return s.key === "arm.hold" ? [] : [s];
      }),
    });
    expect(proof.counts).toMatchObject({ adjusted: 1, refused: 1, missing: 1 });
    expect(proof.values.find((v) => v.id === "system/log.to")?.cause).toBe(
      "The hardware for it is missing on this board",
    );
    expect(proofSentence(proof)).toMatch(/values took; 1 adjusted by the board, 1 refused, 1 missing\. Not carried: /);
  });

  it("what the board holds by itself is its target's default, and no other: one that is left is uninvited", () => {
    const made = madeCatalogue(
      wholeRelease("own-1", [
        setting("kept", number(0, 90), 10),
        setting("free", number(0, 90), 10, { defaultByTarget: { T1: 40 } }),
      ]),
      nextRelease("own-2", "own-1", []),
    );
    const [from, now] = [releaseIn(made, "own-1"), releaseIn(made, "own-2")];
    const whole = valueOf(planUpdate({ configuration: writtenValues({ kept: 3 }), release: from }, now, "T1", made));
    // a plan that does not speak of the setting: what stands there is the board's own
    const silent = { ...whole, items: whole.items.filter((each) => each.id !== "system/free") };
    const back = (value: number): Configuration => writtenValues({ kept: 3, free: value });
    const resultOf = (value: number) =>
      proveRestore({ release: now, plan: silent, decisions: {}, script: [], answers: [], readBack: back(value) }).counts
        .uninvited;
    expect([resultOf(40), resultOf(10)]).toEqual([0, 1]);
  });

  it("finds what changed uninvited, and another profile that is active", () => {
    const back = {
      ...readBack((s) => [s]),
      rows: [...settled.configuration.rows, { table: "lights", key: "9", cells: {}, line: 3 }],
      active: { ...settled.configuration.active, tune: 4 },
    };
    const decisions = firstChoices(plan);
    const proof = proveRestore({ release: to, plan, decisions, script, answers: [], readBack: back });
    expect(proof.values.find((v) => v.id === "on board row lights/9")?.result).toBe("uninvited");
    expect(proofSentence(proof)).toContain("another profile is active than planned");
  });
});
