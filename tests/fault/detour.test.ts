import { currentStep, foldJob, leftOnBoard, resultOf, type Progress } from "@/core/job";
import { partName } from "@/core/part";
import type { SimBoard, SimLink } from "@/core/sim";
import { batteryHands, boardOf, jobOf, stored } from "../support/parts";
import { MemoryStore, runUpdate, swing } from "../support/workshop";

const PUSHER = partName("speed controllers", 1);

/** A wing whose own firmware opens no line to its controller; another release that is built for its board does. */
async function wing(runs: Readonly<Record<string, string>> = { [PUSHER]: "spindle-45" }) {
  const made = await boardOf("QW-12");
  const { aircraft, fitted } = made;
  const store = new MemoryStore();
  store.modelId = aircraft.model;
  const job = jobOf(aircraft, {
    ...{ kind: "parts", runs: { main: "treadle-71", ...runs }, fitted },
    detour: { releaseId: "treadle-81", title: "Treadle 81", target: "FGULL" },
  });
  return { ...made, store, job };
}

let polls = 0;
const handsOf = (board: SimBoard, link: SimLink) => (ask: NonNullable<Progress["ask"]>) =>
  ask.say.includes("battery") ? batteryHands(ask, board, link) : swing(board, polls++);

/** All that the board holds, by its own account: settings and rows. */
const heldBy = ({ mode }: SimBoard): Map<string, unknown> => {
  if (mode.kind !== "console") throw new Error("the board does not speak");
  return new Map<string, unknown>([...mode.app.values, ...mode.app.rows]);
};
const runs = (board: SimBoard) => board.mode.kind === "console" && board.mode.app.release.id;

describe("case C40: the firmware on the board opens no line to its controllers", () => {
  it("the plan makes a detour there and back, with the read-out before and the settings behind it", async () => {
    const { job } = await wing();
    const ids = job.steps.map(({ id }) => id);
    const at = (id: string) => {
      expect(ids).toContain(id);
      return ids.indexOf(id);
    };
    const order = [
      ...["back-up", "know-target", "make-safe", "enter-loader", "rescue", "flash-detour", "start-detour"],
      ...[`open-line of ${PUSHER}`, "fit-battery", `decode-rescue of ${PUSHER}`, "plan", `flash of ${PUSHER}`],
      ...[`prove of ${PUSHER}`, "take-battery", `close-line of ${PUSHER}`, "enter-loader (2)", "flash", "first-start"],
      ...["restore", "prove", "sign-off"],
    ].map(at);
    expect(order).toEqual(order.toSorted((a, b) => a - b));
    expect(job.steps.every(({ why }) => why !== "")).toBe(true);
  });

  it("the controller is read, written and proved; the board runs its own firmware again, set up as it was", async () => {
    const { board, link, store, job } = await wing();
    const before = heldBy(board);
    expect(await runUpdate(board, link, store, { job, hands: handsOf(board, link), waitLimit: 200 })).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    expect([runs(board), board.parts.at("speed controllers", 1)?.runs?.release.id]).toEqual([
      "treadle-71",
      "spindle-45",
    ]);
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
    expect([resultOf(state, "prove").offCount, resultOf(state, "prove", PUSHER).offCount]).toEqual([0, 0]);
    expect(before.size).toBeGreaterThan(200);
    expect(heldBy(board)).toEqual(before);
    // whoever takes the detour is on record, and what the board ran meanwhile
    expect(state.steps.find(({ kind }) => kind === "flash-detour")?.confirmedBy).toBe("technician");
    expect(state.steps.find(({ kind }) => kind === "start-detour")?.evidence).toMatch(/^Treadle 81 /);
  });

  it("where no release that leads there builds its target, the firmware of its nearest neighbour does: what works otherwise is said", async () => {
    const made = await boardOf("QW-08");
    const { board, link, aircraft, fitted } = made;
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const names = [1, 2, 3, 4].map((no) => partName("speed controllers", no));
    const job = jobOf(aircraft, {
      kind: "parts",
      runs: { main: "heddle-22-pellow", ...Object.fromEntries(names.map((name) => [name, "spindle-45"])) },
      fitted,
      detour: { releaseId: "heddle-23", title: "Heddle 23", target: "PSLUICE" },
    });
    const before = heldBy(board);
    const asked: string[] = [];
    const end = await runUpdate(board, link, store, {
      job,
      hands: handsOf(board, link),
      waitLimit: 200,
      killWhen: (state) => {
        const { need, kind } = currentStep(state) ?? {};
        if (kind === "flash-detour" && need?.kind === "confirm") asked.push(...need.asks);
        return false;
      },
    });
    expect(end).toBe("finished");
    expect(asked).toContain("It is the firmware of PSLUICE: meanwhile LED, R4 work otherwise");
    expect([runs(board), board.parts.all.map((each) => each.runs?.release.id)]).toEqual([
      "heddle-22-pellow",
      names.map(() => "spindle-45"),
    ]);
    expect(board.mode.kind === "console" && board.mode.app.target.id).toBe("PSLUICE-X");
    expect(heldBy(board)).toEqual(before);
  });

  it("only read, nothing is written to the controller, and the way is the same", async () => {
    const { board, link, store, job } = await wing({});
    expect(await runUpdate(board, link, store, { job, hands: handsOf(board, link), waitLimit: 200 })).toBe("finished");
    expect([runs(board), board.parts.at("speed controllers", 1)?.runs?.release.id]).toEqual([
      "treadle-71",
      "spindle-41",
    ]);
    const { backupId = 0 } = resultOf(foldJob(job.steps, store.journal), "decode-rescue", PUSHER);
    expect(
      (await store.recitalOf(backupId)).configuration.settings.find(({ key }) => key === "lead angle")?.value,
    ).toBe(12);
  });

  it("killed at every third step (each in the soak), with its board as it stands: it goes on, and all agree", async () => {
    const { job } = await wing();
    const every = process.env.SOAK === undefined ? 3 : 1;
    for (let k = 0; k < job.steps.length; k += every) {
      const id = job.steps[k]?.id ?? "";
      const made = await wing();
      const first = await runUpdate(made.board, made.link, made.store, {
        job,
        hands: handsOf(made.board, made.link),
        waitLimit: 200,
        killWhen: (state) => currentStep(state)?.id === id,
      });
      expect([id, first]).toEqual([id, "let-go"]);
      const again = stored(made.board, made.link);
      await again.link.clock.waitUntil(again.link.clock.nowUs() + 2_000_000);
      const end = await runUpdate(again.board, again.link, made.store, {
        job,
        hands: handsOf(again.board, again.link),
        waitLimit: 200,
      });
      expect([id, end, runs(again.board)]).toEqual([id, "finished", "treadle-71"]);
      expect([id, again.board.parts.at("speed controllers", 1)?.runs?.release.id]).toEqual([id, "spindle-45"]);
      const done = made.store.journal.flatMap(({ entry }) => (entry.kind === "done" ? [entry.step] : []));
      expect([id, new Set(done).size]).toEqual([id, done.length]);
    }
  }, 240_000);

  it("whoever stops it in between is told which firmware is on the board, and that its own is on file", async () => {
    const { board, link, store, job } = await wing();
    const left = new Map<string, string | undefined>();
    await runUpdate(board, link, store, {
      job,
      hands: handsOf(board, link),
      waitLimit: 200,
      killWhen: (state) => {
        left.set(currentStep(state)?.id ?? "", leftOnBoard(state, job.goal));
        return false;
      },
    });
    expect(left.get("flash-detour")).toMatch(/half written: it does not start/);
    expect(left.get("fit-battery")).toMatch(
      /^Treadle 81, which was written for its parts alone.*are on file.*; an open line/,
    );
    expect(left.get("first-start")).toMatch(/its own firmware on its defaults/);
  });
});
