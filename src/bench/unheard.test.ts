import fc from "fast-check";
import { Unheard } from "@/bench/unheard";

const SILENT = { code: "console-silent", message: "The console does not answer" };

describe("what did not answer", () => {
  it("is asked again, at first soon, then less often, for as long as it shows itself", () => {
    const unheard = new Unheard();
    const asked: number[] = [];
    for (let now = 0; now < 600_000; now += 100)
      if (now === 0 || unheard.isDue(SILENT, now)) {
        asked.push(now);
        unheard.asked(SILENT, now);
      }
    const pauses = asked.slice(1).map((at, i) => at - (asked[i] ?? 0));
    expect(pauses.slice(0, 6)).toEqual([2_000, 4_000, 8_000, 16_000, 32_000, 60_000]);
    expect(new Set(pauses.slice(6))).toEqual(new Set([60_000]));
  });

  it("is not asked for ever what it answers in a language that nobody knows", () => {
    const [unheard, none] = [new Unheard(), { code: "idiom-none", message: "No idiom is understood" }];
    let times = 0;
    for (let now = 0; now < 600_000; now += 100)
      if (now === 0 || unheard.isDue(none, now)) {
        times++;
        unheard.asked(none, now);
      }
    expect(times).toBe(4);
  });

  it("is asked no more once it has answered", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 12 }), fc.nat(), (answers, later) => {
        const unheard = new Unheard();
        let now = 0;
        for (const answered of answers) unheard.asked(answered ? undefined : SILENT, (now += 70_000));
        const last = answers.at(-1);
        expect(unheard.isAgain).toBe(last === false);
        expect(unheard.isDue(undefined, now + later)).toBe(false);
        if (last === false) expect(unheard.isDue(SILENT, now + 60_000)).toBe(true);
      }),
    );
  });

  it("is asked soon again when something else shows itself", () => {
    const unheard = new Unheard();
    for (let i = 0; i < 9; i++) unheard.asked(SILENT, i * 60_000);
    unheard.begin();
    expect(unheard.isAgain).toBe(false);
    unheard.asked(SILENT, 1_000_000);
    expect([unheard.isDue(SILENT, 1_001_999), unheard.isDue(SILENT, 1_002_000)]).toEqual([false, true]);
  });
});
