import { loaderSpace } from "@/core/image";
import { currentStep, foldJob, type JobState } from "@/core/job";
import { afflict, buildLoaderImage, type SimBoard } from "@/core/sim";
import { processorOf } from "@/core/catalog";
import {
  catalogue,
  cloneBoard,
  makeBoard,
  MemoryStore,
  reviveJob,
  runUpdate,
  runUntil,
  standsAt,
  updateJob,
} from "../support/workshop";

const JOB = updateJob("heddle-24");
const nettle20 = processorOf(catalogue(), "Nettle 20");
const batten = (version: string) => {
  const part = catalogue().parts.get(`batten-${version}`);
  if (!part) throw new Error(`there is no loader ${version}`);
  return buildLoaderImage(part, nettle20);
};

function loaderOn(board: SimBoard): "2" | "3" | "other" {
  const { start } = loaderSpace(nettle20) ?? { start: 0 };
  const at = start - board.flash.start;
  const holds = (image: Uint8Array) => Buffer.compare(board.flash.bytes.subarray(at, at + image.length), image) === 0;
  return holds(batten("3")) ? "3" : holds(batten("2")) ? "2" : "other";
}

const state = (store: MemoryStore): JobState => foldJob(JOB.steps, store.journal);
const stepOf = (store: MemoryStore, id: string) => state(store).steps.find((step) => step.id === id);

describe("a release that wants a newer loader", () => {
  let start: Awaited<ReturnType<typeof runUntil>>;
  const trial = () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    return { board, link, store: start.store.fork() };
  };
  const afterwards = (now: JobState) => standsAt("flash")(now) || now.phase !== "open";

  beforeAll(async () => {
    start = await runUntil(standsAt("replace-loader"), [], JOB);
  });

  it("case C60: says so before anything is touched; the steps come in when the loader turns out too old", () => {
    expect(JOB.steps.map(({ id }) => id)).toContain("see-loader");
    expect(JOB.steps.map(({ id }) => id)).not.toContain("replace-loader");
    expect(JOB.steps.find(({ id }) => id === "see-loader")?.why).toContain("wants Batten 3 or later");
    expect(state(start.store).steps.map(({ id }) => id)).toEqual(
      expect.arrayContaining(["see-loader", "way-round", "replace-loader", "rest", "flash"]),
    );
    expect(stepOf(start.store, "see-loader")?.evidence).toContain("It has Batten 2; it is to have Batten 3");
    expect(stepOf(start.store, "way-round")?.evidence).toContain("confirmed by technician");
  });

  it("case C23: the whole update; the loader that answers after the seconds is the new one", async () => {
    const { board, link, store } = trial();
    expect(loaderOn(board)).toBe("2");
    expect(await runUpdate(board, link, store, { job: JOB })).toBe("finished");
    expect(loaderOn(board)).toBe("3");
    expect(board.halfImageStarts).toBe(0);
    expect(stepOf(store, "replace-loader")?.evidence).toMatch(/^Batten 3: 4 sectors written and read back equal/);
    expect(stepOf(store, "rest")?.evidence).toBe("It answers as Batten 3.");
    expect(stepOf(store, "first-start")?.evidence).toContain("Heddle 24");
  });

  it("a board that has the newer loader already is not asked for any of it", async () => {
    const { board, link } = await makeBoard();
    board.flash.bytes.set(batten("3"), (loaderSpace(nettle20)?.start ?? 0) - board.flash.start);
    board.loaderMemory.version = undefined;
    const store = new MemoryStore();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(await runUpdate(board, link, store, { job: JOB })).toBe("finished");
    expect(stepOf(store, "see-loader")?.evidence).toBe("It has Batten 3, which is enough.");
    expect(stepOf(store, "replace-loader")).toBeUndefined();
  });

  it("case C60: power lost in every block and every erase: the board comes back, by ROM where nothing else is left", async () => {
    const budget = 100_000_000;
    const whole = trial();
    whole.board.flash.programBudget = budget;
    whole.board.flash.eraseBudget = budget;
    await runUpdate(whole.board, whole.link, whole.store, { job: JOB, killWhen: afterwards });
    const programmed = budget - whole.board.flash.programBudget;
    const erased = budget - whole.board.flash.eraseBudget;
    expect([programmed > 32_000, erased >= 4]).toEqual([true, true]);
    let byRom = 0;
    const cut = async (spoil: (board: SimBoard) => void) => {
      const { board, link, store } = trial();
      spoil(board);
      const plug = board.plug.bind(board);
      board.plug = (nowUs, hold) => {
        if (hold?.pads) byRom++;
        plug(nowUs, hold);
      };
      await runUpdate(board, link, store, { job: JOB, killWhen: afterwards });
      expect(currentStep(state(store))?.id).toBe("flash");
      expect({ half: board.halfImageStarts, loader: loaderOn(board) }).toEqual({ half: 0, loader: "3" });
    };
    for (let at = 0; at < programmed; at += 1021) await cut((board) => (board.flash.programBudget = at));
    for (let sector = 0; sector < erased; sector++) await cut((board) => (board.flash.eraseBudget = sector));
    expect(byRom).toBeGreaterThan(10);
  }, 120_000);

  it("the process killed at every report of it: the next one goes on, whatever was written", async () => {
    let reports = 0;
    const counted = trial();
    await runUpdate(counted.board, counted.link, counted.store, {
      job: JOB,
      killWhen: afterwards,
      onProgress: () => reports++,
    });
    expect(reports).toBeGreaterThan(20);
    for (let at = 1; at < reports; at++) {
      const { board, link, store } = trial();
      let seen = 0;
      const killWhen = (now: JobState) => afterwards(now) || ++seen > at;
      expect(await runUpdate(board, link, store, { job: JOB, killWhen })).toBe("let-go");
      await runUpdate(board, link, store, { job: JOB, killWhen: afterwards });
      expect([at, currentStep(state(store))?.id, loaderOn(board), board.halfImageStarts]).toEqual([
        at,
        "flash",
        "3",
        0,
      ]);
    }
  }, 60_000);

  it("stopped in the middle, the next job begins with whatever is there, by ROM if it must", async () => {
    for (const budget of [100, 9_000, 20_000, 30_000]) {
      const { board, link, store } = trial();
      board.flash.programBudget = budget;
      // the power goes, and somebody stops the job instead of plugging the board in
      await runUpdate(board, link, store, {
        job: JOB,
        killWhen: (now) => currentStep(now)?.notes.some(({ code }) => code === "link-lost") ?? false,
      });
      await link.clock.waitUntil(link.clock.nowUs() + 30_000_000);
      board.plug(link.clock.nowUs());
      await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
      // its application was never touched: it starts, and the word for the loader leads nowhere
      expect([budget, board.mode.kind]).toEqual([budget, "console"]);
      const again = new MemoryStore();
      expect(await runUpdate(board, link, again, { job: JOB })).toBe("finished");
      expect([budget, loaderOn(board), board.halfImageStarts]).toEqual([budget, "3", 0]);
    }
  });

  it("case C23: too short a time without power is noticed and asked for again", async () => {
    const { board, link, store } = trial();
    let hurries = 3;
    let backAtUs = Infinity;
    // somebody in a hurry, while the bench looks on
    const onNeed = () => {
      if (!standsAt("rest")(state(store)) || hurries === 0) return false;
      hurries--;
      board.unplug(link.clock.nowUs());
      backAtUs = link.clock.nowUs() + 4_000_000;
      return true;
    };
    const onProgress = () => {
      if (link.clock.nowUs() < backAtUs) return;
      backAtUs = Infinity;
      board.plug(link.clock.nowUs());
    };
    await runUpdate(board, link, store, { job: JOB, killWhen: afterwards, onNeed, onProgress });
    expect(hurries).toBe(0);
    const notes = stepOf(store, "rest")?.notes ?? [];
    expect(notes.filter(({ code }) => code === "too-early")).toHaveLength(3);
    expect(stepOf(store, "rest")?.evidence).toBe("It answers as Batten 3.");
  });

  it("case C23: a battery that fed the board is told by the old loader that still answers", async () => {
    const { board, link, store } = trial();
    let fed = true;
    await runUpdate(board, link, store, {
      job: JOB,
      killWhen: afterwards,
      onNeed: () => {
        if (!standsAt("rest")(state(store))) return false;
        board.setBattery(link.clock.nowUs(), fed);
        fed = false;
        return false;
      },
    });
    expect(fed).toBe(false);
    expect(stepOf(store, "rest")?.evidence).toBe("It answers as Batten 3.");
  });

  it("case C60: a loader that is the only way in is never touched", async () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    const store = start.store.fork();
    store.journal.splice(
      store.journal.findIndex(({ entry }) => entry.kind === "started" && entry.step === "way-round"),
    );
    const model = { ...board.spec.model, bootPads: false };
    const changed = { ...catalogue(), models: new Map([...catalogue().models, [model.id, model]]) };
    store.catalogue = () => Promise.resolve(changed);
    await expect(runUpdate(board, link, store, { job: JOB })).rejects.toThrow("loader-only-way");
    expect(loaderOn(board)).toBe("2");
  });

  it("case C45: a board whose loader is gone gets it back with its revival, over the serial loader", async () => {
    const { board, link } = await makeBoard(["put motor.rest 6.2"]);
    const store = new MemoryStore();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    await runUpdate(board, link, store, { killWhen: standsAt("know-target") });
    const backup = store.backups.length;
    store.journal.length = 0;
    board.unplug(link.clock.nowUs());
    afflict(board, "emptied");
    board.adapter = true;
    await link.clock.waitUntil(link.clock.nowUs() + 20_000_000);
    board.plug(link.clock.nowUs(), { pads: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    const job = reviveJob(backup, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const done = foldJob(job.steps, store.journal).steps;
    const told = (id: string) => done.find((step) => step.id === id)?.evidence;
    expect(told("see-loader")).toContain("holds none that is whole; it is to have Batten 3");
    expect(told("way-round")).toContain("in its serial loader in ROM now");
    expect(told("prove")).toMatch(/^All \d+ values took/);
    expect([loaderOn(board), board.halfImageStarts]).toEqual(["3", 0]);
  });
});
