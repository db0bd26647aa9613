import fc from "fast-check";
import { currentStep, foldJob, type JobState } from "@/core/job";
import type { SimBoard } from "@/core/sim";
import {
  catalogue,
  makeBoard,
  MemoryStore,
  release,
  runUntil,
  runUpdate,
  standsAt,
  updateJob,
} from "../support/workshop";

const stateOf = (store: MemoryStore, job = updateJob()): JobState => foldJob(job.steps, store.journal);

async function plugged(modelId: string) {
  const made = await makeBoard([], modelId);
  made.board.plug(made.link.clock.nowUs());
  await made.link.clock.waitUntil(made.link.clock.nowUs() + 2_000_000);
  return made;
}

/** Runs a job until it waits for somebody to say why it is that board all the same. */
async function untilAgainst(
  board: SimBoard,
  link: Parameters<typeof runUpdate>[1],
  store: MemoryStore,
  job = updateJob(),
) {
  await runUpdate(board, link, store, {
    job,
    killWhen: (state) => currentStep(state)?.need?.kind === "against",
  });
  const step = currentStep(stateOf(store, job));
  return { step, need: step?.need?.kind === "against" ? step.need : undefined };
}

const accept = (store: MemoryStore, reason: string, job = updateJob()) => {
  const step = currentStep(stateOf(store, job));
  if (step?.need?.kind !== "against") throw new Error("nothing is contradicted");
  const signs = step.need.readings.map(({ sign, seen }) => `${sign}: ${seen}`);
  return store.append({ kind: "confirmed", step: step.id, signs, reason }, "technician");
};

describe("case C87: a board that says that it is another one", () => {
  it("stops before anything is written, with both readings, and goes on by a reason that stands above the signature", async () => {
    const { board, link } = await plugged("corsley-slate");
    const store = new MemoryStore();
    store.modelId = "corsley-slate-lite";
    const before = Buffer.from(board.flash.bytes);
    const { step, need } = await untilAgainst(board, link, store);
    expect(step?.id).toBe("know-target");
    expect(need?.readings).toEqual([
      {
        sign: "Board, by its firmware",
        taken: "Corsley Slate Lite, of a Corsley Slate Lite",
        seen: "Corsley Slate",
        speaksFor: ["Corsley Slate"],
      },
      {
        sign: "USB identity of its console",
        taken: "0x1209:0x0021, of a Corsley Slate Lite",
        seen: "0x1209:0x0020",
        speaksFor: ["Corsley Slate"],
      },
    ]);
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
    await accept(store, "The label was changed over");
    await runUpdate(board, link, store);
    const state = stateOf(store);
    expect(state.phase).toBe("finished");
    expect(state.signed?.statement).toContain("technician went on: The label was changed over");
  });

  it("whichever of the boards that share a processor is taken for another one: nothing is ever written", async () => {
    const built = new Set(release("heddle-22").targets.map(({ id }) => id));
    const models = [...catalogue().models.values()].filter(
      ({ processor, target }) => processor === "Nettle 20" && built.has(target),
    );
    const pairs = models.flatMap(({ id }) =>
      models.flatMap((other) => (other.id === id ? [] : [[id, other.id] as const])),
    );
    expect(pairs.length).toBeGreaterThan(10);
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...pairs), async ([is, taken]) => {
        const { board, link } = await plugged(is);
        const store = new MemoryStore();
        store.modelId = taken;
        const before = Buffer.from(board.flash.bytes);
        const ended = await untilAgainst(board, link, store).then(
          ({ need }) => (need === undefined ? "went on" : "stopped"),
          (error: unknown) => String(error),
        );
        // a target that the release does not build is a refusal of its own, before the signs are held against it
        expect(ended === "stopped" || ended.includes("the job failed at know-target")).toBe(true);
        expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
      }),
      { numRuns: 25 },
    );
  });

  it("after the first start: a gyro that the target looks for and nobody finds", async () => {
    // one of the look-alikes, taken for the other: its own firmware says that target, and is to be that of the register's
    const { board, link } = await plugged("tamsin-reed-b");
    const store = new MemoryStore();
    store.modelId = "tamsin-reed-a";
    const job = { ...updateJob(), goal: { kind: "update", runs: { main: "heddle-23" }, asModel: true } as const };
    expect((await untilAgainst(board, link, store, job)).step?.id).toBe("know-target");
    await accept(store, "It was bought as that", job);
    const { step, need } = await untilAgainst(board, link, store, job);
    expect(step?.id).toBe("first-start");
    expect(need?.readings.map(({ sign, seen }) => [sign, seen])).toEqual([["Gyro", "silent"]]);
    // nothing was restored yet, and nobody signs for it
    expect(
      stateOf(store, job)
        .steps.filter(({ status }) => status === "done")
        .map(({ id }) => id),
    ).not.toContain("restore");
  });

  it("before a sign-off: a board that was exchanged for its twin by chip, of another make", async () => {
    const { board, link, store } = await runUntil(standsAt("sign-off"));
    store.modelId = "corsley-slate-lite";
    const { step, need } = await untilAgainst(board, link, store);
    expect([step?.id, need?.readings.length]).toEqual(["sign-off", 2]);
  });
});

describe("case C89: a person said “battery out”, and the board measures it in", () => {
  it.each([
    // in the loader nothing measures: it is seen as soon as the new release speaks
    ["flash", "restore"],
    ["restore", "restore"],
    ["prove", "prove"],
  ] as const)("fitted at %s it is asked for before %s goes on, and nothing is written meanwhile", async (at, asks) => {
    const { board, link, store } = await runUntil(standsAt(at));
    board.setBattery(link.clock.nowUs(), true);
    let [asked, bytes] = [0, Buffer.alloc(0)];
    await runUpdate(board, link, store, {
      onProgress: (progress) => {
        if (progress?.ask?.say !== "Take the battery out") return;
        if (asked++ === 0) bytes = Buffer.from(board.flash.bytes);
        expect(currentStep(stateOf(store))?.id).toBe(asks);
        expect(Buffer.compare(bytes, board.flash.bytes)).toBe(0);
        if (asked === 5) board.setBattery(link.clock.nowUs(), false);
      },
    });
    expect(asked).toBe(5);
    const notes = stateOf(store).steps.flatMap(({ id, notes: all }) =>
      all.flatMap((n) => (n.code ? [[id, n.text]] : [])),
    );
    expect(notes).toEqual([
      [asks, "The board measures 16.2 V: the battery is in, though technician said that it is out."],
    ]);
    expect(stateOf(store).phase).toBe("finished");
  });
});
