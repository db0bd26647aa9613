import { asPlanned, type Plan, type Proof, type Whose } from "@/core/carryover";
import { ask, askCommand, keepSettings } from "@/core/console";
import { addressId, type Configuration } from "@/core/config";
import { currentStep, foldJob, type Goal, type Need } from "@/core/job";
import { valueOf } from "@/core/problem";
import type { BoardLink } from "@/bench/link";
import { calibrate, type SimBoard } from "@/core/sim";
import {
  imageFile,
  makeBoard,
  MemoryStore,
  runUpdate,
  setUpJob,
  statementIdiom,
  stepsTo,
  foundIn,
} from "../support/workshop";

const idiom = statementIdiom();
const valueAt = (configuration: Configuration, id: string) =>
  configuration.settings.find((entry) => addressId(entry) === id)?.value;
const rowAt = (configuration: Configuration, table: string, key: string) =>
  configuration.rows.find((row) => row.table === table && row.key === key)?.cells;

async function woken(board: SimBoard, link: BoardLink): Promise<void> {
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  valueOf(await ask(link.console, "hush", idiom, 2000));
}

const FLOWN = [
  "use tune 1",
  "put roll.push 61",
  "put gyro.zero.x 0.42",
  "put servo.1.trim 90",
  "put craft.label Heron",
  "row ports 3 use=position speed=57600",
  "row outputs M3 drives=servo",
];

type Made = readonly [model: string, release: string];

/** A backup of one board, then another board of its own making, in a bay. */
async function sourceAnd(of: Made, onto: Made, lines: readonly string[] = []) {
  const source = await makeBoard(FLOWN, of[0], of[1]);
  const store = new MemoryStore();
  await woken(source.board, source.link);
  const { id } = await store.fileBackup(valueOf(await askCommand(source.link.console, idiom, "recite")).raw);
  const { board, link } = await makeBoard(lines, onto[0], onto[1]);
  store.modelId = onto[0];
  await woken(board, link);
  valueOf(await keepSettings(link.console, idiom));
  return { board, link, store, id };
}

function copyJob(
  id: number,
  whose: Whose,
  more: Partial<Extract<Goal, { kind: "set-up" }>> = {},
  releaseId = "heddle-22",
) {
  const goal: Goal = { kind: "set-up", runs: { main: releaseId }, backupId: id, whose, parts: {}, ...more };
  return { ...setUpJob(id, releaseId), goal, steps: stepsTo(goal, "console") };
}

async function ended(store: MemoryStore, job: ReturnType<typeof copyJob>) {
  const data = foundIn(foldJob(job.steps, store.journal));
  const proof = (await store.getJson(data.proofSha ?? "")) as Proof;
  expect(asPlanned(proof)).toBe(true);
  const plan = (await store.getJson(data.planSha ?? "")) as Plan;
  return { now: (await store.recitalOf(data.readBackId ?? 0)).configuration, plan };
}

const looksOf = (store: MemoryStore) =>
  store.journal.flatMap(({ entry }) =>
    entry.kind === "waits" && entry.need.kind === "take" ? (entry.need.looks ?? []) : [],
  );

describe("a board set up as another one was", () => {
  const SLATE = ["corsley-slate", "heddle-22"] as const;

  it("case C33, case C34: another aircraft's tune comes along; calibration, wiring and name stay this one's", async () => {
    const { board, link, store, id } = await sourceAnd(SLATE, SLATE, [
      "put gyro.zero.x 0.11",
      "put servo.1.trim 18",
      "put craft.label Egret",
      "row ports 3 use=telemetry",
    ]);
    const job = copyJob(id, "another");
    expect(job.steps.map((step) => step.id)).not.toContain("flash");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { now, plan } = await ended(store, job);
    expect(valueAt(now, "tune 1/roll.push")).toBe(61);
    expect(valueAt(now, "system/gyro.zero.x")).toBe(0.11);
    expect(valueAt(now, "system/servo.1.trim")).toBe(18);
    expect(valueAt(now, "system/craft.label")).toBe("Egret");
    expect(rowAt(now, "ports", "3")).toMatchObject({ use: "telemetry" });
    expect(rowAt(now, "outputs", "M3")).toMatchObject({ drives: "back-left" });
    expect(plan.items.filter((item) => item.ofBoard).length).toBeGreaterThan(10);
    expect(looksOf(store).some((look) => look.includes("nobody has measured it on this one"))).toBe(true);
  });

  it("case C33: the board that comes after another one gets wiring, mounting and name, and keeps its own calibration", async () => {
    const { board, link, store, id } = await sourceAnd(SLATE, SLATE, ["put gyro.zero.x 0.11"]);
    const job = copyJob(id, "this-aircraft");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { now } = await ended(store, job);
    expect(valueAt(now, "system/gyro.zero.x")).toBe(0.11);
    expect(valueAt(now, "system/servo.1.trim")).toBe(90);
    expect(valueAt(now, "system/craft.label")).toBe("Heron");
    expect(rowAt(now, "ports", "3")).toMatchObject({ use: "position", speed: "57600" });
    expect(rowAt(now, "outputs", "M3")).toMatchObject({ drives: "servo" });
  });

  it("an area that somebody chose comes from the backup, and another one stays whole", async () => {
    const { board, link, store, id } = await sourceAnd(SLATE, SLATE, ["put gyro.zero.x 0.11", "put servo.1.trim 18"]);
    const job = copyJob(id, "another", { parts: { ports: "baseline", outputs: "board", tune: "board" } });
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { now } = await ended(store, job);
    expect(rowAt(now, "ports", "3")).toMatchObject({ use: "position" });
    expect(valueAt(now, "system/servo.1.trim")).toBe(18);
    expect(valueAt(now, "tune 1/roll.push")).not.toBe(61);
  });

  it("case C34: onto a board with another target: what a pad did that is not there is planned anew, and asked", async () => {
    const { board, link, store, id } = await sourceAnd(SLATE, ["corsley-spire", "heddle-22"]);
    const job = copyJob(id, "this-aircraft");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { now, plan } = await ended(store, job);
    const asked = plan.items.filter(
      (item) => item.kind === "row" && item.table === "outputs" && item.choices.length > 0,
    );
    // that board has four pads for servos and one for a motor: M2 to M4 are not there
    expect(asked.map((item) => item.kind === "row" && item.from?.key)).toEqual(["M2", "M3", "M4"]);
    const drives = now.rows.flatMap(({ table, key, cells }) => (table === "outputs" ? [[key, cells.drives]] : []));
    expect(drives.map(([, use]) => use).toSorted()).toEqual(["back-right", "front-left", "front-right", "servo"]);
    expect(new Set(drives.map(([pad]) => pad)).size).toBe(4);
    expect(drives.every(([pad]) => ["S1", "S2", "S3", "S4", "M1", "ROTOR"].includes(String(pad)))).toBe(true);
  });

  it("what was chosen to stay behind stays behind on a copy as well", async () => {
    const { board, link, store, id } = await sourceAnd(SLATE, SLATE);
    const job = copyJob(id, "another", { scope: { kind: "chosen", leave: ["roll.push"] } });
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { now } = await ended(store, job);
    expect(valueAt(now, "tune 1/roll.push")).not.toBe(61);
  });

  it("case C43: the older image and its own backup of then are one job; what was changed since is not carried", async () => {
    const { board, link, store, id } = await sourceAnd(
      SLATE,
      ["corsley-slate", "heddle-23"],
      ["use tune 1", "put roll.push 20", "put aircraft.note meddled"],
    );
    const job = copyJob(id, "this-board", { flashes: true });
    expect(job.steps.map((step) => step.id)).toEqual(expect.arrayContaining(["back-up", "flash", "restore", "prove"]));
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(Buffer.from(board.flash.bytes).indexOf(imageFile("heddle-22", "CSLATE-B"))).toBeGreaterThan(0);
    const { now } = await ended(store, job);
    expect(valueAt(now, "tune 1/roll.push")).toBe(61);
    expect(valueAt(now, "system/gyro.zero.x")).toBe(0.42);
    expect(valueAt(now, "system/craft.note")).toBe("");
    // what was on the newer release is filed all the same
    const data = foundIn(foldJob(job.steps, store.journal));
    expect(valueAt((await store.recitalOf(data.backupId ?? 0)).configuration, "system/aircraft.note")).toBe("meddled");
  });
});

describe("case C33: a calibration that did not come along is a step of the job", () => {
  const SLATE = ["corsley-slate", "heddle-22"] as const;
  type Ask = Extract<Need, { kind: "confirm" | "against" }>;

  /** Runs a copy onto a board that nobody calibrated; what its step asks is answered by `answer`, in the order in which it asks. */
  async function copied(answer: (need: Ask, board: SimBoard, store: MemoryStore) => Promise<unknown>) {
    const { board, link, store, id } = await sourceAnd(SLATE, SLATE);
    const job = copyJob(id, "another");
    const asked: Ask["kind"][] = [];
    const end = await runUpdate(board, link, store, {
      job,
      onNeed: () => {
        const step = currentStep(foldJob(job.steps, store.journal));
        const { need } = step ?? {};
        if (step?.id !== "calibrate" || (need?.kind !== "confirm" && need?.kind !== "against")) return false;
        asked.push(need.kind);
        void answer(need, board, store);
        return true;
      },
    });
    const state = foldJob(job.steps, store.journal);
    return { end, asked, store, state, step: state.steps.find(({ id: each }) => each === "calibrate") };
  }
  const confirm = (store: MemoryStore) => store.append({ kind: "confirmed", step: "calibrate" }, "technician");

  it("what the board then holds is read back, filed, and told", async () => {
    const { end, asked, store, state, step } = await copied((_need, board, store) => {
      calibrate(board);
      return confirm(store);
    });
    expect([end, asked]).toEqual(["finished", ["confirm"]]);
    expect(step?.evidence).toMatch(/^Measured on this board, by the word of technician: .* Read back and filed\.$/);
    const { configuration } = await store.recitalOf(foundIn(state).calibratedId ?? 0);
    const [gyro, flown] = [valueAt(configuration, "system/gyro.zero.x"), valueAt(configuration, "tune 1/roll.push")];
    // of its own board, not the one that was copied, whose tune came along
    expect([gyro === 0 || gyro === 0.42, flown]).toEqual([false, 61]);
  });

  it("whoever says so of a board that still holds its defaults is shown them, and looks again", async () => {
    let looks = 0;
    const { end, asked, step } = await copied(({ kind }, board, store) => {
      if (kind === "confirm" && looks++ === 0) return confirm(store);
      calibrate(board);
      return kind === "confirm" ? confirm(store) : store.append({ kind: "again", step: "calibrate" }, "technician");
    });
    expect([end, asked]).toEqual(["finished", ["confirm", "against"]]);
    expect(step?.evidence).toContain("Measured on this board");
  });

  it("or goes on with a reason that stands above the signature", async () => {
    const { end, asked, store, state } = await copied((need, _board, store) => {
      if (need.kind === "confirm") return confirm(store);
      const signs = need.readings.map(({ sign, seen }) => `${sign}: ${seen}`);
      return store.append({ kind: "confirmed", step: "calibrate", signs, reason: "It only shows its lamps" }, "lead");
    });
    expect([end, asked]).toEqual(["finished", ["confirm", "against"]]);
    const told = store.journal.flatMap(({ entry }) => (entry.kind === "signed" ? [entry.statement] : []));
    expect(told[0]).toContain("It only shows its lamps");
    expect(told[0]).toContain("Gyro at rest");
    expect(state.accepted.length).toBeGreaterThan(1);
  });
});
