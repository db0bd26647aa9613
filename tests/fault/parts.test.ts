import { asPlanned, type Plan, type Proof } from "@/core/carryover";
import type { BoardLink } from "@/bench/link";
import { currentStep, foldJob, leftOnBoard, resultOf, type Part, type Progress, type StepName } from "@/core/job";
import type { SimBoard } from "@/core/sim";
import { stepName } from "@/core/job/action";
import { oddOnes, partName } from "@/core/part";
import { batteryHands, boardOf, demoAircraft, jobOf, partsJob } from "../support/parts";
import { MemoryStore, runUpdate } from "../support/workshop";

const names = [1, 2, 3, 4].map((no): Part => partName("speed controllers", no));

describe("the parts behind a board", () => {
  it("are read out together: each with its release, its code and its values; the line is closed in the end", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-01");
    const store = new MemoryStore();
    const job = partsJob(aircraft, fitted);
    const end = await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
    const state = foldJob(job.steps, store.journal);
    expect(end).toBe("finished");
    for (const name of names) {
      const { backupId = 0 } = resultOf(state, "decode-rescue", name);
      const recital = await store.recitalOf(backupId);
      expect([recital.release.id, recital.configuration.identity.target, recital.completeness.verdict]).toEqual([
        "spindle-44",
        "RIDGE-35",
        "complete",
      ]);
      expect(recital.configuration.settings.find(({ key }) => key === "lead angle")?.value).toBe(20);
    }
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });

  it("case C94: one of four with another release or code is the odd one out", async () => {
    for (const [tag, no, what] of [
      ["QW-04", 3, "firmware"],
      ["QW-05", 2, "built for"],
    ] as const) {
      const { board, link, aircraft, fitted } = await boardOf(tag);
      const store = new MemoryStore();
      const job = partsJob(aircraft, fitted);
      await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
      const state = foldJob(job.steps, store.journal);
      const read = await Promise.all(
        fitted.map(async (part) => {
          const { release, configuration } = await store.recitalOf(
            resultOf(state, "decode-rescue", part.name).backupId ?? 0,
          );
          return { part, release, configuration, target: configuration.identity.target };
        }),
      );
      expect(oddOnes(read).map(({ part, what: differs }) => [part.name, differs])).toEqual([[names[no - 1], what]]);
    }
  });
});

describe("parts brought to another release", () => {
  const all45 = Object.fromEntries(names.map((name) => [name, "spindle-45"]));

  /** The job goes on until it stands still: at a failed step, or at its end. */
  const untilStill = async (
    tag: string,
    change: Parameters<typeof boardOf>[1],
    runs: Readonly<Record<string, string>>,
    hands?: (ask: NonNullable<Progress["ask"]>, board: SimBoard, link: BoardLink) => void,
  ) => {
    const { board, link, aircraft, fitted } = await boardOf(tag, change);
    const store = new MemoryStore();
    const job = partsJob(aircraft, fitted, runs);
    const end = await runUpdate(board, link, store, {
      job,
      hands: (ask) => (hands ?? batteryHands)(ask, board, link),
      killWhen: (state) => currentStep(state)?.status === "failed",
    });
    return { end, state: foldJob(job.steps, store.journal), board, link, store, job };
  };

  it("case C64: one of four fails: the others are written, set up and proved, and that one can be taken again", async () => {
    const aircraft = demoAircraft("QW-01");
    const runs = aircraft.runs?.["speed controllers"] ?? [];
    const worn = { "speed controllers": runs.map((each, i) => (i === 1 ? { ...each, worn: true as const } : each)) };
    const { end, state, board, link, store, job } = await untilStill("QW-01", { runs: worn }, all45);
    expect(end).toBe("let-go");
    const of = (name: Part) =>
      state.steps.filter(({ subject, kind }) => subject === name && kind !== "close-line").map(({ status }) => status);
    for (const name of [names[0], names[2], names[3]]) expect(new Set(of(name ?? "main"))).toEqual(new Set(["done"]));
    expect(of(partName("speed controllers", 2))).toContain("failed");
    expect(state.steps.find(({ status }) => status === "failed")?.problem?.code).toBe("flash-verify");
    // who stops it now is told of that one, and of no other
    expect(leftOnBoard(state, job.goal)).toBe(
      "a firmware of the speed controller, front right that is half written: it does not start; what else was written, proved and not signed off; an open line, which keeps its console from being heard: pull its cable and its battery",
    );
    // another part in its place, and that one again
    const second = board.parts.at("speed controllers", 2);
    if (second) second.flash.worn = undefined;
    await store.append(
      { kind: "again", step: stepName("flash", partName("speed controllers", 2), "main") as StepName },
      "technician",
    );
    expect(await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) })).toBe(
      "finished",
    );
    expect(board.parts.all.map(({ runs: now }) => now?.release.id)).toEqual(names.map(() => "spindle-45"));
  });

  it("case C39: a part with another power-stage code than the register holds is not written, and nothing overrules that", async () => {
    const { end, state, board } = await untilStill("QW-05", {}, all45);
    expect(end).toBe("let-go");
    const refused = state.steps.find(({ status }) => status === "failed");
    expect([refused?.id, refused?.problem?.code]).toEqual(["know-target of speed controllers 2", "part-target"]);
    expect(board.parts.at("speed controllers", 2)?.runs).toMatchObject({
      target: "RIDGE-20",
      release: { id: "spindle-44" },
    });
  });

  it("case C95: the battery goes while a part is written, after whichever byte: it stays in its loader, and is picked up there", async () => {
    for (const bytes of [0, 1, 1023, 1024, 2048, 40_000]) {
      let pulled = false;
      const { end, board, state } = await untilStill(
        "QW-01",
        {},
        { "speed controllers 3": "spindle-45" },
        (ask, bare, link) => {
          const third = bare.parts.at("speed controllers", 3);
          if (!pulled && third && ask.say === "Put the battery in") {
            pulled = true;
            third.flash.programBudget = bytes;
          }
          batteryHands(ask, bare, link);
        },
      );
      expect([bytes, end, state.steps.find(({ status }) => status === "failed")?.problem]).toEqual([
        bytes,
        "finished",
        undefined,
      ]);
      expect(board.parts.all.map(({ runs, halfImageStarts }) => [runs?.release.id, halfImageStarts])).toEqual(
        [1, 2, 3, 4].map((no) => [no === 3 ? "spindle-45" : "spindle-44", 0]),
      );
      expect(state.steps.flatMap(({ notes }) => notes).map(({ code }) => code)).toContain("part-silent");
    }
  });

  it("each is written, started, set up as it was and proved", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-01");
    const store = new MemoryStore();
    const job = partsJob(aircraft, fitted, all45);
    const end = await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
    const state = foldJob(job.steps, store.journal);
    expect(end).toBe("finished");
    for (const [i, name] of names.entries()) {
      const made = board.parts.at("speed controllers", i + 1);
      expect([made?.runs?.release.id, made?.runs?.target, made?.halfImageStarts]).toEqual([
        "spindle-45",
        "RIDGE-35",
        0,
      ]);
      expect(resultOf(state, "prove", name).proved).toMatch(/^All \d+ values took, read back from the board\./);
    }
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });
});

describe("case C51: a value of a part that its processor cannot stand on the new release", () => {
  it("is limited with that processor's figure, needs a nod, and is kept and proved so", async () => {
    const name = partName("speed controllers", 1);
    const was = demoAircraft("QW-01").runs?.["speed controllers"] ?? [];
    const runs = was.map((each, i) =>
      i === 0 ? { ...each, values: { ...each.values, "current ceiling": 90 } } : each,
    );
    const { board, link, aircraft, fitted } = await boardOf("QW-01", { runs: { "speed controllers": runs } });
    const store = new MemoryStore();
    const job = partsJob(aircraft, fitted, { [name]: "spindle-45" });
    const waited = new Set<string>();
    const end = await runUpdate(board, link, store, {
      job,
      hands: (ask) => batteryHands(ask, board, link),
      killWhen: (state) => {
        const need = currentStep(state)?.need;
        if (need) waited.add(need.kind);
        return false;
      },
    });
    const state = foldJob(job.steps, store.journal);
    expect(end).toBe("finished");
    expect(waited).toContain("decisions");
    const plan = store.papers.get(resultOf(state, "plan").planSha ?? "") as Plan;
    expect(plan.items.find(({ id }) => id.endsWith("current ceiling"))).toMatchObject({
      outcome: "limited",
      from: { shown: "90 A" },
      to: { shown: "70 A" },
      trail: expect.arrayContaining([
        expect.objectContaining({ rule: "limit", why: "Nettle 12 runs Spindle 45 at 70 A at most" }),
      ]) as unknown,
    });
    const proof = store.papers.get(resultOf(state, "prove", name).proofSha ?? "") as Proof;
    expect(asPlanned(proof)).toBe(true);
    const { readBackId = 0 } = resultOf(state, "prove", name);
    const { configuration } = await store.recitalOf(readBackId);
    expect(configuration.settings.find(({ key }) => key === "current ceiling")?.value).toBe(70);
  });
});

describe("case C37: a co-processor that the new main firmware cannot drive", () => {
  const goal = { kind: "update", runs: { main: "weft-9", [partName("co-processor", 1)]: "pirn-5" } } as const;

  it("comes along: read before anything changes, written after the main firmware, by its own image", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-15", { fitted: [] });
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const job = jobOf(aircraft, { ...goal, fitted });
    const ids = job.steps.map(({ id }) => id);
    expect(ids.indexOf("flash of co-processor 1")).toBeGreaterThan(ids.indexOf("first-start"));
    expect(ids.indexOf("rescue of co-processor 1")).toBeLessThan(ids.indexOf("flash"));
    const end = await runUpdate(board, link, store, { job });
    expect(end).toBe("finished");
    expect(board.parts.at("co-processor", 1)?.runs).toMatchObject({ release: { id: "pirn-5" }, target: "PWEIR-CO" });
    expect(board.mode.kind === "console" && board.mode.app.release.id).toBe("weft-9");
  });

  it("alone, from one of its releases to another, and back", async () => {
    for (const [from, to] of [
      ["pirn-4", "pirn-6"],
      ["pirn-6", "pirn-5"],
    ] as const) {
      const runs = { "co-processor": [{ release: from, target: "PWEIR-CO" }] };
      const { board, link, aircraft, fitted } = await boardOf("QW-13", { runs, fitted: [] });
      const store = new MemoryStore();
      store.modelId = aircraft.model;
      const job = partsJob(aircraft, fitted, { "co-processor 1": to });
      expect(await runUpdate(board, link, store, { job })).toBe("finished");
      expect(board.parts.at("co-processor", 1)?.runs?.release.id).toBe(to);
    }
  });
});
