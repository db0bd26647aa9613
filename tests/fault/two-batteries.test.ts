import { currentStep, foldJob, resultOf, stepOf, type JobState, type Part } from "@/core/job";
import { partName } from "@/core/part";
import type { SimBoard } from "@/core/sim";
import type { JobOrder } from "@/bench/store";
import { batteryHands, boardOf, demoAircraft, partsJob, stored } from "../support/parts";
import { MemoryStore, runUpdate } from "../support/workshop";

const KIND = "speed controllers";
const names = [1, 2, 3, 4, 5, 6].map((no): Part => partName(KIND, no));

async function teasel(runs: Readonly<Record<string, string>> = {}) {
  const made = await boardOf("QW-14");
  const fitted = made.fitted.filter(({ part }) => part === KIND);
  const store = new MemoryStore();
  store.modelId = made.aircraft.model;
  return { ...made, fitted, job: partsJob(made.aircraft, fitted, runs), store };
}

const stood = (job: JobOrder, store: MemoryStore): JobState => foldJob(job.steps, store.journal);

describe("an aircraft with two batteries", () => {
  it("each is a step and a fact of its own: in when the line is open, both out before it closes", async () => {
    const { board, link, job, store, fitted } = await teasel();
    expect(fitted.map(({ supply }) => supply)).toEqual([
      ...["battery", "second battery", "second battery"],
      ...["battery", "battery", "second battery"],
    ]);
    const order = job.steps.map(({ id }) => id);
    for (const which of ["", " of second battery"]) {
      expect(order.indexOf(`fit-battery${which}`)).toBeGreaterThan(order.indexOf(`open-line of ${names[0] ?? ""}`));
      expect(order.indexOf(`close-line of ${names[0] ?? ""}`)).toBeGreaterThan(order.indexOf(`take-battery${which}`));
      expect(order.indexOf(`take-battery${which}`)).toBeGreaterThan(order.indexOf(`fit-battery${which}`));
    }
    const asked: string[] = [];
    const hands = (ask: Parameters<typeof batteryHands>[0]) => {
      asked.push(ask.say);
      batteryHands(ask, board, link);
    };
    expect(await runUpdate(board, link, store, { job, hands })).toBe("finished");
    expect([...new Set(asked)].filter((say) => say.includes("battery"))).toHaveLength(4);
    expect(names.map((name) => resultOf(stood(job, store), "decode-rescue", name).backupId)).not.toContain(undefined);
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });

  it("what hangs on the other one does not count as an answer: the first in tells nothing of the second", async () => {
    const { board, link, job, store } = await teasel();
    const hands = (ask: Parameters<typeof batteryHands>[0]) => {
      // whoever stands there takes every word for the first battery
      if (!ask.say.includes("second")) batteryHands(ask, board, link);
    };
    await expect(runUpdate(board, link, store, { job, hands, waitLimit: 4 })).rejects.toThrow("waits without end");
    expect(currentStep(stood(job, store))?.id).toBe("fit-battery of second battery");
    expect(board.batteries.has("second battery")).toBe(false);
  });

  it("one that is still in when the line should close is asked for by its name", async () => {
    const { board, link, job, store } = await teasel();
    const asked = new Set<string>();
    const hands = (ask: Parameters<typeof batteryHands>[0]) => {
      asked.add(ask.say);
      if (ask.say !== "Take the second battery out") batteryHands(ask, board, link);
    };
    await expect(runUpdate(board, link, store, { job, hands, waitLimit: 6 })).rejects.toThrow("waits without end");
    expect(asked).toContain("Take the second battery out");
    expect([board.leadsTo !== undefined, [...board.batteries]]).toEqual([true, ["second battery"]]);
  });

  it.each(["battery", "second battery"] as const)(
    "case C95: the %s goes in mid-write: it is asked for by its name, and only what it feeds has lost anything",
    async (which) => {
      const no = which === "battery" ? 4 : 3;
      const name = partName(KIND, no);
      const { board, link, job, store } = await teasel({ [name]: "spindle-44" });
      const part = board.parts.at(KIND, no);
      if (part) part.flash.programBudget = 8_000;
      const asked = new Set<string>();
      let others: string[] | undefined;
      const hands = (ask: Parameters<typeof batteryHands>[0]) => {
        asked.add(ask.say);
        if (ask.say === `Put the ${which} in again`) others ??= off(board);
        batteryHands(ask, board, link);
      };
      expect(await runUpdate(board, link, store, { job, hands })).toBe("finished");
      expect(asked).toContain(`Put the ${which} in again`);
      expect(others).toEqual(board.parts.all.flatMap(({ spec }) => (spec.supply === which ? [String(spec.no)] : [])));
      expect(board.parts.at(KIND, no)?.runs?.release.id).toBe("spindle-44");
      expect(board.parts.all.every(({ halfImageStarts }) => halfImageStarts === 0)).toBe(true);
    },
  );

  it("case C89: said to be out, and measured in: the one that is in is named, and nothing goes on", async () => {
    const { board, link, job, store } = await teasel();
    board.setBattery(link.clock.nowUs(), true, "second battery");
    const asked: string[] = [];
    const hands = (ask: Parameters<typeof batteryHands>[0]) => {
      asked.push(ask.say);
      batteryHands(ask, board, link);
    };
    expect(await runUpdate(board, link, store, { job, hands })).toBe("finished");
    expect(asked[0]).toBe("Take the second battery out");
  });
});

describe("two kinds of parts behind one board", () => {
  it("each is spoken to through the line of its own kind, and what is read is its own", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-14");
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const job = partsJob(aircraft, fitted);
    // whatever is done to a part is done while the last line that was opened leads to its kind
    let open: string | undefined;
    for (const { id } of job.steps) {
      const { kind, subject } = stepOf(id);
      const part = fitted.find(({ name }) => name === subject)?.part;
      if (kind === "open-line") open = part;
      else if (kind === "close-line") open = undefined;
      else if (kind === "know-loader" || kind === "know-board" || kind === "know-target" || kind === "rescue")
        expect([id, part === undefined || open === part]).toEqual([id, true]);
    }
    const end = await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
    expect(end).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    for (const { name, part } of fitted) {
      const { release } = await store.recitalOf(resultOf(state, "decode-rescue", name).backupId ?? 0);
      expect([name, "part" in release && release.part]).toEqual([name, part]);
    }
    const ids = fitted.map(({ name }) => resultOf(state, "know-loader", name).chipId);
    expect(new Set(ids).size).toBe(fitted.length);
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });

  it("let go of at whichever step, and gone on with on the board as it was stored: each part is read as itself", async () => {
    const { aircraft, fitted, board: first } = await boardOf("QW-14");
    const { steps } = partsJob(aircraft, fitted);
    expect(first.parts.all).toHaveLength(fitted.length);
    const every = process.env.SOAK === undefined ? 7 : 1;
    // where a line is being opened, and at others
    const points = steps.flatMap(({ id }, i) => (i % every === 3 % every || id.startsWith("open-line") ? [i] : []));
    for (const at of points) {
      const made = await boardOf("QW-14");
      const store = new MemoryStore();
      store.modelId = aircraft.model;
      const job = partsJob(aircraft, fitted);
      const done = (state: JobState) => state.steps.filter(({ status }) => status === "done").length;
      const hands = (on: SimBoard, link: typeof made.link) => (ask: Parameters<typeof batteryHands>[0]) =>
        batteryHands(ask, on, link);
      const killed = await runUpdate(made.board, made.link, store, {
        ...{ job, hands: hands(made.board, made.link), killWhen: (state) => done(state) >= at },
      });
      expect([at, killed]).toEqual([at, "let-go"]);
      const again = stored(made.board, made.link);
      await again.link.clock.waitUntil(again.link.clock.nowUs() + 2_000_000);
      const end = await runUpdate(again.board, again.link, store, { job, hands: hands(again.board, again.link) });
      expect([at, end]).toEqual([at, "finished"]);
      const state = stood(job, store);
      for (const { name, part } of fitted) {
        const { release } = await store.recitalOf(resultOf(state, "decode-rescue", name).backupId ?? 0);
        expect([at, name, "part" in release && release.part]).toEqual([at, name, part]);
      }
      expect([at, again.board.leadsTo, again.board.battery]).toEqual([at, undefined, false]);
    }
  }, 600_000);

  it("a battery that feeds both kinds goes in for each line, and only while that is open", async () => {
    const whole = demoAircraft("QW-14");
    const co = { part: "co-processor", title: "co-processor", places: ["on the tail"], target: "PWEIR-CO" };
    const fitted = [...(whole.fitted ?? []), { ...co, supply: "battery" as const }];
    const made = await boardOf("QW-14", { fitted });
    const { board, link, aircraft } = made;
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const job = partsJob(aircraft, made.fitted);
    let open = false;
    for (const { id } of job.steps) {
      const { kind } = stepOf(id);
      if (kind === "open-line") open = true;
      else if (kind === "close-line") open = false;
      else if (kind === "fit-battery") expect([id, open]).toEqual([id, true]);
    }
    const end = await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
    expect(end).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    for (const { name, part } of made.fitted) {
      const { release } = await store.recitalOf(resultOf(state, "decode-rescue", name).backupId ?? 0);
      expect([name, "part" in release && release.part]).toEqual([name, part]);
    }
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });

  it("a part of another kind than the aircraft's sheet says is not taken for it", async () => {
    // a controller's firmware was written to the co-processor, which has the same processor
    const runs = { "co-processor": [{ release: "spindle-44", target: "RIDGE-35" }] };
    const { board, link, aircraft, fitted } = await boardOf("QW-14", { fitted: [], runs });
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const job = partsJob(aircraft, fitted);
    const end = await runUpdate(board, link, store, {
      job,
      killWhen: (state) => currentStep(state)?.status === "failed",
    });
    expect(end).toBe("let-go");
    const { problem } = currentStep(foldJob(job.steps, store.journal)) ?? {};
    expect(problem?.code).toBe("part-kind");
  });
});

const off = (board: SimBoard): string[] => board.parts.all.flatMap(({ spec, fed }) => (fed ? [] : [String(spec.no)]));
