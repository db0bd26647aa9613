import { asPlanned, proofSentence, type Plan, type Proof, type Scope, type ScriptLine } from "@/core/carryover";
import { addressId, type Configuration } from "@/core/config";
import { foldJob, type Goal } from "@/core/job";
import type { JobOrder } from "@/bench/store";
import { makeBoard, MemoryStore, release, runUpdate, updateJob, foundIn } from "../support/workshop";

const valueAt = (configuration: Configuration, id: string) =>
  configuration.settings.find((entry) => addressId(entry) === id)?.value;

const CHANGED = [
  "use tune 1",
  "put roll.push 61",
  "use tune 2",
  "put roll.push 62",
  "use tune 1",
  "put craft.note mine",
];

/** The update of the straight road, of which only a part comes along. */
async function updated(scope: Scope) {
  const { board, link } = await makeBoard(CHANGED);
  const store = new MemoryStore();
  const plain = updateJob("heddle-23");
  const job: JobOrder = { ...plain, goal: { ...plain.goal, scope } as Goal };
  expect(await runUpdate(board, link, store, { job })).toBe("finished");
  const data = foundIn(foldJob(job.steps, store.journal));
  return {
    plan: (await store.getJson(data.planSha ?? "")) as Plan,
    script: (await store.getJson(data.scriptSha ?? "")) as ScriptLine[],
    proof: (await store.getJson(data.proofSha ?? "")) as Proof,
    after: (await store.recitalOf(data.readBackId ?? 0)).configuration,
  };
}

describe("an update of which only a part comes along", () => {
  it("case C29: the wipe, then the starter set, then what comes along; the starter set's values are in the plan and on the board", async () => {
    const { plan, script, proof, after } = await updated({ kind: "without-feel", starter: "sedge-7" });
    expect(script.slice(0, 2).map(({ text }) => text)).toEqual(["forget", "starter sedge-7"]);
    const set = release("heddle-23").starters.find(({ name }) => name === "sedge-7");
    const tune = set?.values.filter(({ scope }) => scope === "tune 1") ?? [];
    expect(tune.length).toBeGreaterThan(0);
    for (const { scope, key, value } of tune) {
      const item = plan.items.find(({ id }) => id === `${scope}/${key}`);
      expect(item).toMatchObject({ outcome: "left-out", scoped: true, to: { value } });
      expect(valueAt(after, `${scope}/${key}`)).toBe(value);
    }
    // what the pilot had tuned is not on it, what was wired and set up is
    expect(valueAt(after, "tune 2/roll.push")).not.toBe(62);
    expect(valueAt(after, "system/aircraft.note")).toBe("mine");
    expect(asPlanned(proof)).toBe(true);
    const behind = proof.values.filter(({ result, scoped }) => result === "left-behind" && scoped);
    expect(behind.length).toBe(plan.items.filter((item) => item.kind !== "line" && item.scoped).length);
    expect(proofSentence(proof)).toContain(`${behind.length} left behind on purpose`);
  });

  it("case C30: without a starter set it is on the plain defaults, and the proof says what was left behind", async () => {
    const { after, proof } = await updated({ kind: "without-feel" });
    const setting = release("heddle-23").settings.find(({ key }) => key === "roll.push");
    expect(valueAt(after, "tune 1/roll.push")).toBe(setting?.default);
    expect(asPlanned(proof)).toBe(true);
  });

  it("one tune of several stays behind; the others come as they were", async () => {
    const { after } = await updated({ kind: "chosen", leave: ["tune 2"] });
    expect(valueAt(after, "tune 1/roll.push")).toBe(61);
    expect(valueAt(after, "tune 2/roll.push")).not.toBe(62);
  });
});
