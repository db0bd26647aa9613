import { foldJob } from "@/core/job";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { catalogue, imageFile, runUntil, runUpdate, standsAt, updateJob } from "../support/workshop";

/** A board of the same model, with a chip of its own. */
async function stranger(inLoader: boolean) {
  const model = catalogue().models.get("corsley-slate");
  if (!model) throw new Error("no model");
  const board = new SimBoard({ model, chipId: "9999-0000-1111", firstPort: 50 }, catalogue());
  board.manufacture(imageFile("heddle-22", "CSLATE-B"));
  const link = linkTo(board, virtualClock());
  board.plug(0, { button: inLoader });
  await link.clock.waitUntil(2_000_000);
  return { board, link };
}

describe("case C58: another board is put in the bay in mid-job", () => {
  it.each([
    ["flash", true],
    ["restore", false],
    ["back-up", false],
  ] as const)("at the step %s the job stops before it touches it", async (step, inLoader) => {
    const start = await runUntil(standsAt(step));
    const { board, link } = await stranger(inLoader);
    const before = Buffer.from(board.flash.bytes);
    const store = start.store.fork();
    await expect(runUpdate(board, link, store)).rejects.toThrow("board-other");
    const state = foldJob(updateJob().steps, store.journal);
    expect(state.steps.find((s) => s.id === step)?.problem?.hint).toContain("Put the board of QW-01 back");
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
  });
});
