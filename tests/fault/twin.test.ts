import fc from "fast-check";
import { asPlanned, openItems, planUpdate, scriptOf, settlePlan, writerFor, type Proof } from "@/core/carryover";
import { findTarget } from "@/core/catalog";
import { idiomOf } from "@/core/idiom";
import { currentStep, foldJob } from "@/core/job";
import { againstTwin, playOnTwin, twinLooks, type TwinEnd, type TwinInput } from "@/core/job/twin";
import { valueOf } from "@/core/problem";
import {
  catalogue,
  makeBoard,
  MemoryStore,
  release,
  runUpdate,
  standsAt,
  updateJob,
  foundIn,
} from "../support/workshop";
import { worn } from "../support/worn";

const WAYS = [
  ["heddle-22", "heddle-24", "CSLATE-B", "corsley-slate"],
  ["heddle-23", "heddle-19", "CSLATE-B", "corsley-slate"],
  ["heddle-22", "weft-9", "PWEIR", "pellow-weir"],
  ["treadle-71", "treadle-80", "FGULL", "fenwright-gull"],
  ["bobbin-40", "bobbin-41", "CSLATE-B", "corsley-slate"],
] as const;

/** What a job would play: a worn configuration, carried over, the n-th choice taken of each. */
function inputFor([fromId, toId, name, modelId]: (typeof WAYS)[number], seed: number, nth: number): TwinInput {
  const [from, to] = [release(fromId), release(toId)];
  const target = (findTarget(to, name) ?? to.targets[0])?.id ?? "";
  const identity = { family: from.family, release: from.version, target };
  const recital = { configuration: worn(from, identity, seed), release: from };
  const plan = valueOf(planUpdate(recital, to, target, catalogue()));
  const decisions = Object.fromEntries(
    openItems(plan, {}).map(({ id, choices }) => [id, choices[nth % choices.length]?.id ?? ""]),
  );
  const document = catalogue().idioms.get(to.idiom);
  if (!document) throw new Error(to.idiom);
  const settled = settlePlan(plan, decisions, to);
  // two decisions may meet in one row: then there is no script, and nothing to play
  const script = settled.ok ? scriptOf(settled.value, to, writerFor(to, idiomOf(document))) : [];
  return { releaseId: toId, target, modelId, plan, decisions, script, before: { releaseId: fromId, target: name } };
}

describe("a twin of the board", () => {
  it("ends as the plan says, for any configuration, way and choice; the same input ends the same", async () => {
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...WAYS), fc.nat(6), fc.nat(2), async (way, seed, nth) => {
        const input = inputFor(way, seed, nth);
        if (input.script.length === 0) return;
        const end = valueOf(await playOnTwin(input, catalogue()));
        // lines that nobody understands are sent as they are, and a board that does not know them refuses
        const sentAsTheyAre = new Set(
          input.plan.items.flatMap(({ id, kind }) => (kind === "line" && input.decisions[id] === "send" ? [id] : [])),
        );
        expect(end.otherwise.filter(({ id }) => !sentAsTheyAre.has(id))).toEqual([]);
        expect(end.activeAsPlanned).toBe(true);
        expect(end.seconds).toBeGreaterThan(0);
        // the release was written through the board's own loader first
        expect(end.flashS).toBeGreaterThan(0);
        expect(valueOf(await playOnTwin(input, catalogue()))).toEqual(end);
      }),
      { numRuns: 10 },
    );
  }, 120_000);

  it("case C59: what it ends with otherwise than the plan is told before anything is taken", async () => {
    const input = inputFor(WAYS[0], 1, 0);
    // a plan that says of one value what was never sent
    const plan = {
      ...input.plan,
      items: input.plan.items.map((item) =>
        item.kind === "setting" && item.id === "tune 1/roll.push" && item.to
          ? { ...item, to: { ...item.to, value: 99, shown: "99" } }
          : item,
      ),
    };
    const end = valueOf(await playOnTwin({ ...input, plan }, catalogue()));
    expect(end.otherwise).toMatchObject([{ id: "tune 1/roll.push", planned: "99" }]);
    expect(twinLooks(end)).toEqual([
      "On its twin 1 value comes out otherwise than planned.",
      expect.stringMatching(/: planned 99, adjusted/) as string,
    ]);
    expect(againstTwin(end, [])).toBe("1 value came out otherwise than on its twin.");
  });

  it("case C59: documents that came in since are told; the job is held against its twin at its end", async () => {
    const { board, link } = await makeBoard(["put motor.rest 6.5"]);
    const store = new MemoryStore();
    store.changes.push("Since it was ordered heddle-23 came in as version 2; the job goes by version 1.");
    const job = updateJob("heddle-23");
    const seen: unknown[] = [];
    const killWhen = (state: ReturnType<typeof foldJob>) => {
      const need = currentStep(state)?.need;
      if (need?.kind === "take") seen.push(need.looks);
      return false;
    };
    expect(await runUpdate(board, link, store, { job, killWhen })).toBe("finished");
    expect(seen[0]).toEqual(store.changes);
    const state = foldJob(job.steps, store.journal);
    const [steps, data] = [state.steps, foundIn(state)];
    const twin = (await store.getJson(data.twinSha ?? "")) as TwinEnd;
    expect(twin).toMatchObject({ otherwise: [], activeAsPlanned: true });
    expect(steps.find(({ id }) => id === "prove")?.evidence).toContain("It came out as on its twin.");
    const proof = (await store.getJson(data.proofSha ?? "")) as Proof;
    expect(twin.took).toBe(proof.counts.took);
  });

  it("laid open again while the board stands in its loader already, the job plans on and ends as planned", async () => {
    const { board, link } = await makeBoard(["put motor.rest 6.5"]);
    const store = new MemoryStore();
    const job = updateJob("heddle-23");
    expect(await runUpdate(board, link, store, { job, killWhen: standsAt("rescue") })).toBe("let-go");
    expect(link.presence().kind).toBe("loader");
    await store.append({ kind: "reopened" }, "technician");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const data = foundIn(foldJob(job.steps, store.journal));
    expect(asPlanned((await store.getJson(data.proofSha ?? "")) as Proof)).toBe(true);
  });

  it("a board of no known kind, and a release that the catalogue lacks, are told and not thrown", async () => {
    const input = inputFor(WAYS[0], 1, 0);
    expect(await playOnTwin({ ...input, target: "NOWHERE", modelId: "" }, catalogue())).toMatchObject({
      ok: false,
      problem: { code: "twin-stopped" },
    });
    expect((await playOnTwin({ ...input, releaseId: "heddle-99" }, catalogue())).ok).toBe(false);
  });
});
