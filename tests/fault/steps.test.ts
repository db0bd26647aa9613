import { foldJob, type StepName } from "@/core/job";
import type { BoardLink } from "@/bench/link";
import { ask } from "@/core/console";
import { valueOf } from "@/core/problem";
import type { Proof } from "@/core/carryover";
import {
  makeBoard,
  MemoryStore,
  obey,
  runUpdate,
  standsAt,
  statementIdiom,
  updateJob,
  foundIn,
} from "../support/workshop";

const stepOf = (store: MemoryStore, id: StepName) =>
  foldJob(updateJob().steps, store.journal).steps.find((s) => s.id === id);
const encode = (text: string) => new TextEncoder().encode(text);
const decode = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const needs = (store: MemoryStore) =>
  store.journal.flatMap(({ entry }) => (entry.kind === "waits" ? [entry.need] : []));

async function onBench(lines: readonly string[] = [], modelId?: string) {
  const { board, link } = await makeBoard(lines, modelId);
  const store = new MemoryStore();
  if (modelId !== undefined) store.modelId = modelId;
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  return { board, link, store };
}

/** The same link with what the console says passed through a filter. */
function filtered(link: BoardLink, filter: (text: string) => string): BoardLink {
  return {
    ...link,
    console: {
      ...link.console,
      nowUs: () => link.console.nowUs(),
      send: (bytes) => link.console.send(bytes),
      receive: async (untilUs) => {
        const bytes = await link.console.receive(untilUs);
        return bytes === undefined ? undefined : encode(filter(decode(bytes)));
      },
    },
  };
}

describe("nothing is erased before its rescue is on disk", () => {
  it("case C01: a read-out that lacks lines stops the job before anything is touched, and is kept all the same", async () => {
    const { board, link, store } = await onBench();
    const before = Buffer.from(board.flash.bytes);
    const lossy = filtered(link, (text) => (text.startsWith("put failsafe.after") ? "" : text));
    await expect(runUpdate(board, lossy, store)).rejects.toThrow("backup-incomplete");
    expect(stepOf(store, "back-up")?.problem).toMatchObject({
      code: "backup-incomplete",
      detail: expect.stringContaining("failsafe.after") as string,
    });
    expect(store.backups).toHaveLength(1);
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
  });

  it("a console that falls silent in the middle of the read-out ends in a problem, not in a hang", async () => {
    const { board, link, store } = await onBench();
    let heard = 0;
    const deaf = filtered(link, (text) => (++heard > 60 ? "" : text));
    await expect(runUpdate(board, deaf, store)).rejects.toThrow("console-silent");
    expect(stepOf(store, "back-up")?.problem?.hint).toBe(
      "Unplug the board, plug it in again and start the step once more",
    );
  });

  it("case C65: signs for the target that contradict each other are said, never settled by lot", async () => {
    const { board, link, store } = await onBench();
    store.modelId = "tamsin-mote";
    await expect(runUpdate(board, link, store)).rejects.toThrow("target-contradiction");
    expect(stepOf(store, "know-target")?.problem?.detail).toBe("The board says CSLATE-B; a Tamsin Mote takes TMOTE");
  });

  it("a release that is not built for the target is refused before the plan", async () => {
    const { board, link, store } = await onBench();
    const real = await store.catalogue();
    const next = real.releases.get("heddle-23");
    if (!next) throw new Error("no release");
    store.catalogue = () =>
      Promise.resolve({
        ...real,
        releases: new Map([
          ...real.releases,
          ["heddle-23", { ...next, targets: next.targets.filter((t) => t.id === "TMOTE") }],
        ]),
      });
    await expect(runUpdate(board, link, store)).rejects.toThrow("target-missing");
    expect(stepOf(store, "know-target")?.problem?.detail).toBe("It is built for TMOTE");
  });
});

describe("hands", () => {
  it("case C41: a battery that is still in is measured, and the step goes on by itself when it is out", async () => {
    const { board, link, store } = await onBench();
    board.setBattery(link.clock.nowUs(), true);
    let seen = 0;
    await runUpdate(board, link, store, {
      killWhen: standsAt("enter-loader"),
      onProgress: () => {
        if (
          foldJob(updateJob().steps, store.journal).steps.find((s) => s.id === "make-safe")?.confirmedBy !==
            undefined &&
          ++seen === 4
        )
          board.setBattery(link.clock.nowUs(), false);
      },
    });
    expect(stepOf(store, "make-safe")?.evidence).toBe(
      "Confirmed by technician; the board measures 0.0 V, so the battery is out.",
    );
    expect(seen).toBeGreaterThanOrEqual(4);
  });

  it("case C21: a swallowed word is not said twice; the hands are told what this board has", async () => {
    const { board, link, store } = await onBench();
    board.faults = { ...board.faults, swallowLoaderWord: true };
    await runUpdate(board, link, store, { killWhen: standsAt("rescue") });
    expect(stepOf(store, "enter-loader")?.notes.map((n) => n.text)).toEqual([
      "The console took the word and did nothing.",
    ]);
    expect(needs(store).at(-1)).toMatchObject({
      kind: "board",
      asks: [
        "Unplug the board",
        "Hold its boot button",
        "Plug it in, count to two, let go",
        "If no loader shows: wire the serial adapter to its first port, and bridge its boot pads instead",
      ],
    });
    expect(stepOf(store, "enter-loader")?.evidence).toContain("It is in its USB loader");
  });

  it("case C22: a board that stays away after a restart is waited for with a limit, then asked for by hand with a countdown", async () => {
    const { board, link, store } = await onBench();
    board.faults = { ...board.faults, staysAway: true };
    const started = link.clock.nowUs();
    let waited = 0;
    const end = await runUpdate(board, link, store, {
      killWhen: (state) => {
        const need = state.steps.find((s) => s.id === "enter-loader")?.need;
        if (need?.kind === "board" && waited === 0) waited = link.clock.nowUs() - started;
        return need?.kind === "board";
      },
    });
    expect(end).toBe("let-go");
    expect(needs(store).at(-1)).toMatchObject({ kind: "board", countdownS: 10 });
    expect(waited).toBeLessThan(30_000_000);
  });

  it("a board that comes back as its firmware after a pulled cable is brought into the loader once more by its word", async () => {
    const { board, link, store } = await onBench();
    await runUpdate(board, link, store, { killWhen: standsAt("flash") });
    // nothing was written yet: unplugged and plugged in, it starts the old release
    board.unplug(link.clock.nowUs());
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(link.presence().kind).toBe("console");
    await runUpdate(board, link, store, { killWhen: standsAt("restore") });
    expect(stepOf(store, "flash")?.status).toBe("done");
    expect(board.halfImageStarts).toBe(0);
  });

  it("a job can begin before the board is on the cable, and finds it when it comes", async () => {
    const { board, link } = await makeBoard();
    const store = new MemoryStore();
    await runUpdate(board, link, store, { killWhen: standsAt("plan") });
    expect(needs(store)[0]).toMatchObject({ kind: "board", asks: ["Plug its USB cable in"] });
    expect(stepOf(store, "back-up")?.status).toBe("done");
  });
});

describe("after the restore", () => {
  it("case C32: what the board adjusts or refuses is shown with its cause, and stored all the same", async () => {
    const { board, link, store } = await onBench();
    await runUpdate(board, link, store, { killWhen: standsAt("restore") });
    // a custom build on the way: it takes two lines otherwise than they were sent, refuses one of them, and says so
    const CHANGED: Readonly<Record<string, readonly [line: string, answer: string]>> = {
      "put compass.fitted yes": ["put compass.fitted no", "= not so, absent: no such sensor"],
      "put loop.rate 4": ["put loop.rate 6", "= so, as 6"],
    };
    let [sent, answered] = [0, 0];
    const answerAt = new Map<number, string>();
    const odd = filtered(link, (text) =>
      text
        .split("\n")
        .map((line) => (line.startsWith("= ") ? (answerAt.get(++answered) ?? line) : line))
        .join("\n"),
    );
    odd.console.send = (bytes) =>
      link.console.send(
        encode(
          decode(bytes)
            .split("\n")
            .map((line) => {
              // the wipe is the first line of the restore: nothing is on its way then
              if (line === "forget") [sent, answered] = [0, 0];
              if (line !== "") sent++;
              const [now, answer] = CHANGED[line] ?? [line];
              if (answer !== undefined) answerAt.set(sent, answer);
              return now;
            })
            .join("\n"),
        ),
      );
    await runUpdate(board, odd, store, { killWhen: standsAt("check-attitude") });
    expect(stepOf(store, "restore")?.evidence).toMatch(/1 refused, 1 adjusted\. Stored/);
    const proof = (await store.getJson(foundIn(foldJob(updateJob().steps, store.journal)).proofSha ?? "")) as Proof;
    expect(proof.values.find(({ id }) => id === "system/compass.fitted")).toMatchObject({
      result: "refused",
      planned: "on",
      found: "off",
      cause: "The hardware for it is missing on this board",
    });
    expect(proof.values.find(({ id }) => id === "system/loop.rate")).toMatchObject({
      result: "adjusted",
      planned: "4 kHz",
      found: "6 kHz",
    });
  });

  it("case C57, case C66: a wrong mounting shows as the wrong way round and stays open until it holds", async () => {
    const { board, link, store } = await onBench();
    board.senses.mountQuarters = 2;
    let wrong = 0;
    let polls = 0;
    const end = await runUpdate(board, link, store, {
      killWhen: (state) => {
        const step = state.steps.find((s) => s.id === "check-attitude");
        if (step?.status !== "running") return false;
        polls++;
        if (polls > 8) wrong = Object.keys(step.passed).length;
        return polls > 40;
      },
    });
    expect(end).toBe("let-go");
    expect(wrong).toBe(0);
    expect(stepOf(store, "check-attitude")?.status).not.toBe("done");
  });

  it("what was proved in a check stays proved when the cable comes out", async () => {
    const { board, link, store } = await onBench();
    await runUpdate(board, link, store, {
      killWhen: (state) => Object.keys(state.steps.find((s) => s.id === "check-receiver")?.passed ?? {}).length === 2,
    });
    const passed = stepOf(store, "check-receiver")?.passed;
    board.failPower(link.clock.nowUs());
    expect(await runUpdate(board, link, store)).toBe("finished");
    expect(stepOf(store, "check-receiver")?.passed).toMatchObject(passed ?? {});
  });

  it("the whole way on the other board, which has no button, whose loader is in ROM, and whose receiver wants the battery", async () => {
    const { board, link, store } = await onBench(["put lights.count 2"], "tamsin-mote");
    const end = await runUpdate(board, link, store, {
      onProgress: () => {
        const state = foldJob(updateJob().steps, store.journal);
        if (state.steps.find((s) => s.id === "check-receiver")?.status === "running")
          board.setBattery(link.clock.nowUs(), true);
      },
    });
    expect(end).toBe("finished");
    expect(foundIn(foldJob(updateJob().steps, store.journal)).target).toBe("TMOTE");
  });
});

it("a technician who is asked for nothing does nothing", async () => {
  const { board, link, store } = await onBench();
  const before = store.journal.length;
  await obey(foldJob(updateJob().steps, []), board, link, store);
  expect(store.journal.length).toBe(before);
  expect(valueOf(await ask(link.console, "put loop.rate 4", statementIdiom(), 2000)).answer).toBe("accepted");
});
