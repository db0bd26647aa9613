import { needsOfSettings, planUpdate, withAbility } from "@/core/carryover";
import { foldJob, type Progress } from "@/core/job";
import { partName } from "@/core/part";
import { valueOf } from "@/core/problem";
import { defaultConfiguration } from "@/core/idiom";
import type { SimBoard, SimLink } from "@/core/sim";
import { batteryHands, boardOf, jobOf } from "../support/parts";
import { catalogue, MemoryStore, release, runUpdate, swing } from "../support/workshop";

const names = [1, 2, 3, 4].map((no) => partName("speed controllers", no));
let polls = 0;
const handsOf = (board: SimBoard, link: SimLink) => (ask: NonNullable<Progress["ask"]>) =>
  ask.say.includes("battery") ? batteryHands(ask, board, link) : swing(board, polls++);
const app = ({ mode }: SimBoard) => {
  if (mode.kind !== "console") throw new Error("the board does not speak");
  return mode.app;
};

describe("case C96: an ability is wanted", () => {
  it("the release, the controllers, the protocol and a lever: what is missing is done in one job, each with its reason", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-04");
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const before = new Map(app(board).values);
    expect(before.get("system/motor.protocol")).not.toBe("digital-6");
    const job = jobOf(aircraft, {
      kind: "ability",
      ability: "turn-over",
      runs: { main: "heddle-23", ...Object.fromEntries(names.map((name) => [name, "spindle-45"])) },
      flashes: true,
      fitted,
    });
    expect(await runUpdate(board, link, store, { job, hands: handsOf(board, link), waitLimit: 200 })).toBe("finished");
    expect(foldJob(job.steps, store.journal).phase).toBe("finished");
    const now = app(board);
    expect([now.release.id, board.parts.all.map(({ runs }) => runs?.release.id)]).toEqual([
      "heddle-23",
      names.map(() => "spindle-45"),
    ]);
    expect(now.values.get("system/motor.protocol")).toBe("digital-6");
    const levers = [...now.rows.values()].filter(({ table }) => table === "switches");
    const [called] = levers.filter(({ cells }) => cells.action === "turn-over");
    expect(called).toBeDefined();
    // no other lever shares its channel
    expect(levers.filter(({ cells }) => cells.channel === called?.cells.channel)).toHaveLength(1);
  });

  it("what is so already stays as it is, and only what is missing is touched", () => {
    for (const id of ["heddle-23", "heddle-24", "heddle-30"]) {
      const to = release(id);
      const ability = to.abilities.find((each) => each.id === "turn-over");
      if (!ability) throw new Error(`${id} knows no such ability`);
      const target = "CSLATE-B";
      const plan = valueOf(
        planUpdate(
          { configuration: defaultConfiguration(to, target, { target }), release: to },
          to,
          target,
          catalogue(),
        ),
      );
      const once = valueOf(withAbility(plan, ability, to));
      expect(needsOfSettings(plan, ability, to).map(({ state }) => state)).toEqual(["to-do", "to-do"]);
      const changed = once.items.filter((item) => !plan.items.includes(item));
      expect(changed.map(({ kind, outcome }) => [kind, outcome])).toEqual([
        ["setting", "converted"],
        ["row", "your-call"],
      ]);
      // decided, and brought along once more: nothing is left to do
      const taken = {
        ...once,
        items: once.items.map((item) =>
          item.kind === "row" && item.choices.length > 1 && item.id.startsWith("ability ")
            ? { ...item, to: item.choices[0]?.row, choices: [] }
            : item,
        ),
      };
      expect(needsOfSettings(taken, ability, to).map(({ state }) => state)).toEqual(["there", "there"]);
      expect(valueOf(withAbility(taken, ability, to)).items).toEqual(taken.items);
    }
  });

  it("a full table of levers has no room for another, and that is said", () => {
    const to = release("heddle-23");
    const [ability] = to.abilities;
    if (!ability) throw new Error("there is no ability");
    const target = "CSLATE-B";
    const own = defaultConfiguration(to, target, { target });
    const rows = Array.from({ length: 20 }, (_, i) => ({
      table: "switches",
      key: String(i + 1),
      cells: { action: "beeper", channel: 5, from: 900, to: 1200 },
      line: 0,
    }));
    const full = { ...own, rows: [...own.rows.filter(({ table }) => table !== "switches"), ...rows] };
    const plan = valueOf(planUpdate({ configuration: full, release: to }, to, target, catalogue()));
    const refused = withAbility(plan, ability, to);
    expect(!refused.ok && refused.problem.code).toBe("ability-lever");
    expect(needsOfSettings(plan, ability, to).at(-1)?.state).toBe("cannot");
  });
});
