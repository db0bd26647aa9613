import { currentStep, foldJob } from "@/core/job";
import type { SimBoard } from "@/core/sim";
import { amendedPlan } from "@/bench/steps/plan";
import { catalogue, makeBoard, MemoryStore, runUpdate, updateJob, foundIn } from "../support/workshop";

const stateOf = (store: MemoryStore) => foldJob(updateJob().steps, store.journal);

async function plugged() {
  const made = await makeBoard();
  made.board.plug(made.link.clock.nowUs());
  await made.link.clock.waitUntil(made.link.clock.nowUs() + 2_000_000);
  return made;
}

/** Somebody who moves exactly as asked, and says so once the board feels it otherwise. */
function honest(store: MemoryStore) {
  let attempt: AbortController | undefined;
  let said = 0;
  const pose = (board: SimBoard, roll: number, pitch: number) => Object.assign(board.senses, { roll, pitch });
  return {
    onAttempt: (stop: AbortController) => {
      attempt = stop;
    },
    hands: (ask: { readonly say: string; readonly wrong: boolean }, board: SimBoard) => {
      if (ask.say.startsWith("Lift the nose")) pose(board, 0, 30);
      else if (ask.say.startsWith("Lower the right")) pose(board, 30, 0);
      else {
        pose(board, 0, 0);
        if (ask.say.includes("turn it")) board.senses.heading = (board.senses.heading + 20) % 360;
      }
      board.senses.sticks = board.senses.sticks.map((pulse) => (pulse === 1000 ? 2000 : 1000));
      const step = currentStep(stateOf(store));
      if (!ask.wrong || !step || said > 8) return;
      said++;
      void store
        .append({ kind: "noted", step: step.id, text: "technician moved it as asked", code: "as-asked" }, "technician")
        .then(() => attempt?.abort());
    },
  };
}

const untilFailed = async (made: Awaited<ReturnType<typeof plugged>>, store: MemoryStore) => {
  await runUpdate(made.board, made.link, store, {
    ...honest(store),
    killWhen: (state) => currentStep(state)?.need?.kind === "check",
  });
  const step = currentStep(stateOf(store));
  if (step?.need?.kind !== "check") throw new Error(`it stands at ${step?.id ?? "its end"}`);
  return { step, need: step.need };
};

describe("case C88: the board lies turned in the airframe", () => {
  it.each([1, 2, 3])(
    "by %i quarters: the check says so, what follows is written, proved and checked again, and the record says who and why",
    async (quarters) => {
      const made = await plugged();
      made.board.senses.mountQuarters = quarters;
      const store = new MemoryStore();
      const { step, need } = await untilFailed(made, store);
      expect(step.id).toBe("check-attitude");
      expect(need.say).toContain("turned in the airframe otherwise than its setting says");
      expect(need.correction).toMatchObject({ itemId: "system/board.turned", value: quarters * 90 });
      const state = stateOf(store);
      if (!need.correction) throw new Error("nothing follows from it");
      const changed = await amendedPlan(
        { store, state, catalogue: catalogue(), job: updateJob() },
        need.correction,
        "technician",
      );
      const { itemId, label } = need.correction;
      await store.append(
        { kind: "amended", step: step.id, itemId, shown: label, why: need.say, ...changed },
        "technician",
      );
      const open = stateOf(store)
        .steps.filter(({ status }) => status !== "done")
        .map(({ id }) => id);
      expect(open).toEqual(["restore", "prove", "check-attitude", "check-receiver", "sign-off"]);
      await runUpdate(made.board, made.link, store, honest(store));
      const end = stateOf(store);
      expect(end.phase).toBe("finished");
      expect(end.steps.find(({ id }) => id === "check-attitude")?.evidence).toContain("All three signs are right");
      const readBack = store.backups.at(-1)?.configuration.settings.find(({ key }) => key === "board.turned");
      expect(readBack?.value).toBe(quarters * 90);
      const proof = store.papers.get(foundIn(end).proofSha ?? "") as {
        values: { id: string; result: string; trail?: unknown }[];
      };
      expect(proof.values.find(({ id }) => id === "system/board.turned")?.result).toBe("took");
    },
  );

  it("it may be done over from its first ask, and be recorded as failed: the reason says what was seen", async () => {
    const made = await plugged();
    made.board.senses.mountQuarters = 1;
    const store = new MemoryStore();
    const { step } = await untilFailed(made, store);
    await store.append({ kind: "again", step: step.id }, "technician");
    const again = currentStep(stateOf(store));
    expect([again?.passed, again?.wrong, again?.status]).toEqual([{}, undefined, "to-do"]);
    // it was the person who had held it the wrong way: set right by hand, it passes
    made.board.senses.mountQuarters = 0;
    await runUpdate(made.board, made.link, store, honest(store));
    expect(stateOf(store).phase).toBe("finished");
  });

  it("what was held for one ask does not answer the next: it waits until the board is level", async () => {
    const made = await plugged();
    const store = new MemoryStore();
    const asked: string[] = [];
    await runUpdate(made.board, made.link, store, {
      hands: (ask, board) => {
        if (asked.at(-1) !== ask.say) asked.push(ask.say);
        Object.assign(board.senses, { roll: 0, pitch: 0 });
        if (ask.say.startsWith("Lift the nose")) board.senses.pitch = 30;
        if (ask.say.startsWith("Lower the right")) board.senses.roll = 30;
        if (ask.say.includes("turn it")) board.senses.heading = (board.senses.heading + 20) % 360;
        board.senses.sticks = board.senses.sticks.map((pulse) => (pulse === 1000 ? 2000 : 1000));
      },
    });
    expect(asked.slice(0, 5).map((say) => say.slice(0, 16))).toEqual([
      "Lift the nose by",
      "Set it level aga",
      "Lower the right ",
      "Set it level aga",
      "Set it level and",
    ]);
    expect(stateOf(store).phase).toBe("finished");
  });
});
