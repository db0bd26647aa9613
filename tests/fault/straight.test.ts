import { proofSentence, type Proof } from "@/core/carryover";
import { foldJob } from "@/core/job";
import { makeBoard, MemoryStore, runUpdate, updateJob, foundIn } from "../support/workshop";

/** The whole job on a simulated board in virtual time, nothing cut. */
describe("an update without trouble", () => {
  it("runs from the first step to the signature and proves every value", async () => {
    const { board, link } = await makeBoard([
      "put loop.rate 9",
      "put motor.rest 6.2",
      "use tune 3",
      "put roll.push 61",
    ]);
    const store = new MemoryStore();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(await runUpdate(board, link, store)).toBe("finished");
    const state = foldJob(updateJob().steps, store.journal);
    expect(state.phase).toBe("finished");
    const proof = store.papers.get(foundIn(state).proofSha ?? "") as Proof;
    expect(proofSentence(proof)).toBe(
      `All ${proof.counts.took} values took, read back from the board. Not carried: 4 kept by the firmware itself, 4 have no place in the new release.`,
    );
    expect(proof.values.length).toBe(proof.counts.took + 8);
    expect(proof.values.find((v) => v.id === "system/loop.rate")?.found).toBe("8 kHz");
    expect(proof.values.find((v) => v.id === "tune 3/roll.push")?.found).toBe("61");
    expect(board.halfImageStarts).toBe(0);
    expect(store.rescues).toHaveLength(1);
  });
});
