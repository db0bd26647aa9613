import fc from "fast-check";
import { partName } from "@/core/part";
import type { StepState } from "@/core/job";
import { stretchesOf } from "@/ui/job/part-grid";

interface Step {
  readonly state: Pick<StepState, "subject" | "kind">;
}
const step = fc.oneof(
  fc.record({
    kind: fc.constantFrom("flash" as const, "rescue" as const),
    subject: fc.nat(3).map((no) => partName("pump", no + 1)),
  }),
  fc.record({
    kind: fc.constantFrom("open-line" as const, "close-line" as const),
    subject: fc.constant(partName("pump", 1)),
  }),
  fc.record({
    kind: fc.constantFrom("flash" as const, "plan" as const),
    subject: fc.constantFrom("main" as const, "visit" as const),
  }),
);

describe("the steps of a card", () => {
  it("each stands on it once, in its order; only those of parts that follow each other stand together", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (all) => {
        const steps: Step[] = all.map((state) => ({ state }));
        const shown = stretchesOf(steps).flatMap((each) =>
          each.kind === "step" ? [each.at] : Array.from({ length: each.to - each.from + 1 }, (_, i) => each.from + i),
        );
        expect(shown).toEqual(steps.map((_, i) => i));
        for (const each of stretchesOf(steps))
          if (each.kind === "parts")
            for (const { state } of steps.slice(each.from, each.to + 1)) expect(state.subject).toMatch(/^pump \d$/);
      }),
    );
  });
});
