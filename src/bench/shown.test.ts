import fc from "fast-check";
import { setTimeout as delay } from "node:timers/promises";
import { Shown } from "@/bench/shown";

describe("what a bay shows", () => {
  it("however long writes take and whichever fail: nothing older comes after a newer one, and the last is there", async () => {
    const writes = fc.array(fc.record({ ms: fc.integer({ min: 0, max: 4 }), fails: fc.boolean() }), { minLength: 1 });
    await fc.assert(
      fc.asyncProperty(
        writes,
        fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 2, maxLength: 8 }),
        async (how, gaps) => {
          const kept: number[] = [];
          let no = 0;
          const shown = new Shown(async ({ say }) => {
            const { ms, fails } = how[no++ % how.length] ?? { ms: 0, fails: false };
            await delay(ms);
            if (fails) throw new Error("away");
            kept.push(Number(say));
          });
          const showing: Promise<unknown>[] = [];
          for (const [i, gap] of gaps.entries()) {
            showing.push(shown.show({ mark: "ok", say: String(i) }, true).catch(() => undefined));
            await delay(gap);
          }
          await Promise.all(showing);
          // a bay is shown again and again; what is there is not written twice
          const last = { mark: "ok", say: String(gaps.length - 1) } as const;
          for (let i = 0; i <= how.length && !how.every(({ fails }) => fails); i++)
            await shown.show(last, true).catch(() => undefined);
          expect(kept).toEqual([...new Set(kept)].toSorted((a, b) => a - b));
          if (how.some(({ fails }) => !fails)) expect(kept.at(-1)).toBe(gaps.length - 1);
        },
      ),
      { numRuns: 60 },
    );
  });
});
