import fc from "fast-check";
import { nextOf, progressSentence, standingOf, undecidedOf, type Member } from "@/core/campaign/standing";

const members: fc.Arbitrary<Member[]> = fc
  .array(
    fc.record({
      leftOut: fc.boolean(),
      isThere: fc.boolean(),
      job: fc.option(
        fc.record({ state: fc.constantFrom("open", "finished", "stopped" as const), taken: fc.boolean() }),
        { nil: undefined },
      ),
    }),
    { maxLength: 9 },
  )
  .map((all) => all.map(({ job, ...rest }, i) => ({ ...rest, ...(job ? { job } : {}), tag: `T-${i}`, place: i + 1 })));

describe("where a campaign stands", () => {
  it("each aircraft is counted once, and whoever is still to come is undecided, for any members", () => {
    fc.assert(
      fc.property(members, (all) => {
        const sentence = progressSentence(all);
        const count = (words: string) => Number(new RegExp(`(\\d+) ${words}`).exec(sentence)?.[1] ?? 0);
        const [there, of] = [...sentence.matchAll(/^(\d+) of (\d+)/g)].flatMap(([, a, b]) => [Number(a), Number(b)]);
        const tags = undecidedOf(all).map(({ tag }) => tag);
        expect(new Set(tags).size).toBe(tags.length);
        expect(tags).toEqual(expect.arrayContaining(nextOf(all).map(({ tag }) => tag)));
        expect(of).toBe(all.length - count("left out"));
        const waiting = all.filter((member) => standingOf(member) === "waiting").length;
        expect((there ?? 0) + count("on the bench") + count("stopped") + waiting).toBe(of);
        for (const member of all) {
          const settled = ["done", "there", "left-out"].includes(standingOf(member));
          const reached = !settled && !(standingOf(member) === "under-way" && member.job?.taken === true);
          expect([member, tags.includes(member.tag)]).toEqual([member, reached]);
        }
        const [next] = nextOf(all);
        expect(sentence.endsWith(next ? `; ${next.tag} is next.` : ".")).toBe(true);
      }),
    );
  });
});
