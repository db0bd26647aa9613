import { asPlanned, type Proof } from "@/core/carryover";
import { foldJob } from "@/core/job";
import type { BoardLink } from "@/bench/link";
import type { JobOrder } from "@/bench/store";
import { blown, fusedStore, keepRunning, type Fuse } from "../support/fuses";
import {
  cloneBoard,
  imageFile,
  makeBoard,
  MemoryStore,
  runUntil,
  runUpdate,
  standsAt,
  updateJob,
  foundIn,
} from "../support/workshop";
import { applicationSpace } from "@/core/image";
import type { SimBoard } from "@/core/sim";

/** A link of which one call fails with an error that nobody expects: no cable that came out. */
function fusedLink(link: BoardLink, fuse: Fuse): BoardLink {
  const once = <T>(what: string, call: () => Promise<T>): Promise<T> => {
    const error = blown(fuse, what);
    return error ? Promise.reject(error) : call();
  };
  return {
    presence: () => link.presence(),
    clock: link.clock,
    console: {
      nowUs: () => link.console.nowUs(),
      send: (bytes) => once("send", () => link.console.send(bytes)),
      receive: (untilUs) => once("receive", () => link.console.receive(untilUs)),
    },
    usb: {
      nowUs: () => link.usb.nowUs(),
      control: (request) => once("control", () => link.usb.control(request)),
      wait: (ms) => link.usb.wait(ms),
      reset: () => once("reset", () => link.usb.reset()),
    },
    serial: link.serial,
    drive: link.drive,
  };
}

const proved = standsAt("check-attitude");

/** A job whose calls fail, and what shall be on the board at its end. */
interface Subject {
  readonly job: JobOrder;
  readonly image: readonly [release: string, target: string];
}
const BY_USB: Subject = { job: updateJob(), image: ["heddle-23", "CSLATE-B"] };
const BY_SERIAL: Subject = { job: updateJob("bobbin-41"), image: ["bobbin-41", "PRILL"] };

/** Board, record and papers tell the same: the whole image, every value of the plan, no step done twice or left open. */
function expectAgreement({ job, image: [release, target] }: Subject, board: SimBoard, store: MemoryStore, n: number) {
  const state = foldJob(job.steps, store.journal);
  expect({ n, half: board.halfImageStarts }).toEqual({ n, half: 0 });
  const image = imageFile(release, target);
  const at = applicationSpace(board.processor).start - board.processor.flashStart;
  expect([n, Buffer.compare(board.flash.bytes.subarray(at, at + image.length), image)]).toEqual([n, 0]);
  const proof = store.papers.get(foundIn(state).proofSha ?? "") as Proof;
  expect([n, asPlanned(proof)]).toEqual([n, true]);
  const done = store.journal.flatMap(({ entry }) => (entry.kind === "done" ? [entry.step] : []));
  expect([n, new Set(done).size]).toEqual([n, done.length]);
}

describe("each call fails once, the n-th for every n; afterwards board, record and papers agree (case C78)", () => {
  let start: Awaited<ReturnType<typeof runUntil>>;
  const trial = () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    return { board, link, store: start.store.fork() };
  };
  const count = async (fuse: Fuse, run: (t: ReturnType<typeof trial>) => Promise<void>) => {
    await run(trial());
    return fuse.calls;
  };

  it.each([false, true])(
    "of the job's store, the answer lost after the work: %s",
    async (after) => {
      start = await runUntil(standsAt("know-board"));
      const run = (fuse: Fuse) => async (t: ReturnType<typeof trial>) => {
        await keepRunning(
          { job: BY_USB.job, until: proved },
          t.board,
          t.link,
          t.store,
          fusedStore(t.store, fuse, after),
        );
        // a lost answer after "done" was kept: the step stands once
        expectAgreement(BY_USB, t.board, t.store, fuse.at);
      };
      const counted: Fuse = { at: -1, calls: 0 };
      const calls = await count(counted, run(counted));
      expect(calls).toBeGreaterThan(60);
      // every third here, others where the answer is lost; each in the soak
      const [first, every] = process.env.SOAK === undefined ? [after ? 2 : 1, 3] : [1, 1];
      for (let at = first; at <= calls; at += every) {
        const fuse: Fuse = { at, calls: 0 };
        await run(fuse)(trial());
        expect(fuse.calls).toBeGreaterThanOrEqual(at);
      }
    },
    240_000,
  );

  it("of the job's store where a serial loader writes, every seventeenth call (each in the soak)", async () => {
    const made = await makeBoard([], "pellow-rill", "bobbin-40");
    const store = new MemoryStore();
    store.modelId = "pellow-rill";
    made.board.plug(made.link.clock.nowUs());
    await made.link.clock.waitUntil(made.link.clock.nowUs() + 2_000_000);
    await runUpdate(made.board, made.link, store, { job: BY_SERIAL.job, killWhen: standsAt("make-safe") });
    start = { ...made, store };
    const run = (fuse: Fuse) => async (t: ReturnType<typeof trial>) => {
      await keepRunning(
        { job: BY_SERIAL.job, until: proved },
        t.board,
        t.link,
        t.store,
        fusedStore(t.store, fuse, fuse.at % 2 === 0),
      );
      expectAgreement(BY_SERIAL, t.board, t.store, fuse.at);
    };
    const counted: Fuse = { at: -1, calls: 0 };
    const calls = await count(counted, run(counted));
    const every = process.env.SOAK === undefined ? 17 : 1;
    for (let at = 1; at <= calls; at += every) await run({ at, calls: 0 })(trial());
  }, 3_600_000);

  it("of the link while the settings go over and are proved, every seventeenth call (each in the soak)", async () => {
    start = await runUntil(standsAt("restore"));
    const run = (fuse: Fuse) => async (t: ReturnType<typeof trial>) => {
      await keepRunning({ job: BY_USB.job, until: proved }, t.board, fusedLink(t.link, fuse), t.store, t.store);
      expectAgreement(BY_USB, t.board, t.store, fuse.at);
    };
    const counted: Fuse = { at: -1, calls: 0 };
    const calls = await count(counted, run(counted));
    const every = process.env.SOAK === undefined ? 17 : 1;
    for (let at = 1; at <= calls; at += every) await run({ at, calls: 0 })(trial());
  }, 3_600_000);
});
