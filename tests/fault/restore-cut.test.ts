import { asPlanned, isAsPlanned, type Proof } from "@/core/carryover";
import { foldJob } from "@/core/job";
import { cloneBoard, runUntil, runUpdate, standsAt, updateJob, foundIn } from "../support/workshop";

const BY_HAND = [
  "put motor.rest 6.2",
  "put craft.note fen",
  "use tune 4",
  "put yaw.memory 91",
  "row switches 1 does=arm channel=5 from=1700 to=2100",
  "use tune 2",
];

describe("case C26: a restore that is cut", () => {
  let start: Awaited<ReturnType<typeof runUntil>>;
  const trial = () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    return { board, link, store: start.store.fork() };
  };
  const proved = standsAt("check-attitude");
  const proofOf = (store: ReturnType<typeof trial>["store"]) =>
    store.papers.get(foundIn(foldJob(updateJob().steps, store.journal)).proofSha ?? "") as Proof;

  beforeAll(async () => {
    start = await runUntil(standsAt("restore"), BY_HAND);
  });

  it("power lost after every ninth line (each in the soak): the restore begins again and ends with the planned state", async () => {
    let lines = 0;
    const counted = trial();
    await runUpdate(counted.board, counted.link, counted.store, { killWhen: proved, onProgress: () => lines++ });
    const planned = proofOf(counted.store);
    expect(asPlanned(planned)).toBe(true);
    expect(lines).toBeGreaterThan(250);
    const every = process.env.SOAK === undefined ? 9 : 1;
    for (let line = 1; line < lines; line += every) {
      const { board, link, store } = trial();
      let seen = 0;
      await runUpdate(board, link, store, {
        killWhen: proved,
        onProgress: () => {
          if (++seen === line) board.failPower(link.clock.nowUs());
        },
      });
      const proof = proofOf(store);
      expect({ line, counts: proof.counts, active: proof.activeAsPlanned }).toEqual({
        line,
        counts: planned.counts,
        active: true,
      });
    }
  }, 600_000);

  it("the process killed after every eleventh line: nothing is lost", async () => {
    for (let line = 2; line < 260; line += 11) {
      const { board, link, store } = trial();
      let seen = 0;
      await runUpdate(board, link, store, { killWhen: (state) => proved(state) || ++seen > line });
      await runUpdate(board, link, store, { killWhen: proved });
      const proof = proofOf(store);
      expect([line, asPlanned(proof)]).toEqual([line, true]);
      expect(store.journal.some(({ entry }) => entry.kind === "interrupted" && entry.step === "restore")).toBe(true);
    }
  }, 120_000);

  it("power lost while the settings are being stored: recognised as damaged, then restored", async () => {
    for (const [erases, bytes] of [
      [0, Infinity],
      [1, Infinity],
      [Infinity, 0],
      [Infinity, 7],
      [Infinity, 1000],
      [Infinity, 3000],
    ] as const) {
      const { board, link, store } = trial();
      board.flash.eraseBudget = erases;
      board.flash.programBudget = bytes;
      await runUpdate(board, link, store, { killWhen: proved });
      expect([erases, bytes, asPlanned(proofOf(store))]).toEqual([erases, bytes, true]);
    }
  });

  it("case C49: the profile that was active before is active again", async () => {
    const { board, link, store } = trial();
    await runUpdate(board, link, store, { killWhen: proved });
    expect(board.mode.kind === "console" && board.mode.app.active.tune).toBe(2);
  });
});

describe("a restore that takes two passes", () => {
  // a sensor that is not in use, whose reach was set: it is opened for a while, and looked for only at a start
  const CLOSED = ["put ground.fitted no", "put ground.most 12", "put baro.fitted no", "put baro.trust 80"];
  const proved = standsAt("check-attitude");
  const stateOf = (store: Awaited<ReturnType<typeof runUntil>>["store"]) => foldJob(updateJob().steps, store.journal);
  const proofOf = (store: Awaited<ReturnType<typeof runUntil>>["store"]) =>
    store.papers.get(foundIn(stateOf(store)).proofSha ?? "") as Proof;
  let start: Awaited<ReturnType<typeof runUntil>>;
  beforeAll(async () => {
    start = await runUntil(standsAt("restore"), CLOSED);
  });
  const trial = () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    return { board, link, store: start.store.fork() };
  };
  /** Of each pass: that it was stored, then that the board started on it. */
  const passesOf = (store: Awaited<ReturnType<typeof runUntil>>["store"]) =>
    store.journal.flatMap(({ entry }) => (entry.kind === "stored" ? [entry.started === true] : []));

  it("is stored and started in between, and all is as planned, on its twin as on the board", async () => {
    const { board, link, store } = trial();
    await runUpdate(board, link, store, { killWhen: proved });
    const proof = proofOf(store);
    expect(asPlanned(proof)).toBe(true);
    const restored = stateOf(store).steps.find(({ id }) => id === "restore");
    expect(restored?.evidence).toContain("none refused");
    expect(restored?.evidence).toContain("restarted 2 times");
    expect(stateOf(store).steps.find(({ id }) => id === "prove")?.evidence).toContain("as on its twin");
    expect(passesOf(store)).toEqual([false, true, false, true]);
    const held = (key: string) => board.mode.kind === "console" && board.mode.app.values.get(`system/${key}`);
    expect([held("ground.fitted"), held("ground.most"), held("baro.fitted"), held("baro.trust")]).toEqual([
      false,
      12,
      false,
      80,
    ]);
  });

  it("the power or the process gone after any line of either pass: it goes on behind what is stored", async () => {
    let lines = 0;
    const counted = trial();
    await runUpdate(counted.board, counted.link, counted.store, { killWhen: proved, onProgress: () => lines++ });
    // each line of the second pass, which has few
    for (let line = 9; line < lines; line += line > lines - 12 ? 2 : 97)
      for (const how of ["power", "process"] as const) {
        const { board, link, store } = trial();
        let seen = 0;
        await runUpdate(board, link, store, {
          killWhen: (state) => proved(state) || (how === "process" && ++seen === line),
          onProgress: () => {
            if (how === "power" && ++seen === line) board.failPower(link.clock.nowUs());
          },
        });
        if (how === "process") await runUpdate(board, link, store, { killWhen: proved });
        expect([how, line, asPlanned(proofOf(store))]).toEqual([how, line, true]);
      }
  }, 300_000);

  it("the process gone right after a pass was stored: the board is started before the next one, whatever was known", async () => {
    for (const nth of [1, 2, 3, 4]) {
      const { board, link, store } = trial();
      const append = store.append.bind(store);
      let seen = 0;
      const died = new Promise<void>((resolve) => {
        store.append = async (entry, account) => {
          const entered = await append(entry, account);
          if (entry.kind !== "stored" || ++seen !== nth) return entered;
          resolve();
          // whoever has died hears no answer
          return new Promise(() => undefined);
        };
      });
      await Promise.race([runUpdate(board, link, store, { killWhen: proved }), died]);
      store.append = append;
      await runUpdate(board, link, store, { killWhen: proved });
      const off = proofOf(store).values.filter((value) => !isAsPlanned(value));
      expect([nth, off.map(({ id, result }) => [id, result])]).toEqual([nth, []]);
    }
  }, 60_000);

  it("case C22: a board that stays away after each restart is plugged in twice, and not restored for ever", async () => {
    const { board, link, store } = trial();
    board.faults = { ...board.faults, staysAway: true };
    await runUpdate(board, link, store, { killWhen: proved });
    expect(asPlanned(proofOf(store))).toBe(true);
    expect(passesOf(store)).toEqual([false, true, false, true]);
  });
});
