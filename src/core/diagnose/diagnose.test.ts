import fc from "fast-check";
import { CAUSES, diagnose, SYMPTOMS, type Seen } from "@/core/diagnose";

const first = (seen: Seen) => diagnose(seen).causes[0]?.cause.id;

/** Answers each question as the cause would show it, until nothing more is asked. */
function found(causeId: string, start: Seen): { found: string | undefined; asked: string[] } {
  const cause = CAUSES.find(({ id }) => id === causeId);
  if (!cause) throw new Error(causeId);
  let seen: Seen = start;
  const asked: string[] = [];
  for (let next = diagnose(seen).next; next; next = diagnose(seen).next) {
    asked.push(next.id);
    const answer = cause.shows[next.id] ?? Object.keys(next.answers)[0] ?? "";
    seen = { ...seen, [next.id]: answer };
  }
  return { found: first(seen), asked };
}

describe("a board that does not work as it should", () => {
  it("case C24: where nothing shows, the likeliest cause comes first, and each is told from the others by a try", () => {
    const start = { cable: "nothing", port: "usb" };
    const { causes, next } = diagnose(start);
    expect(causes[0]?.cause.id).toBe("charge-only");
    expect(causes.slice(0, 4).map(({ cause }) => cause.id)).toEqual(expect.arrayContaining(["half-image", "host"]));
    expect(next).toBeDefined();
    for (const cause of ["charge-only", "half-image", "other-image", "loader-erased", "dead", "host"])
      expect([cause, found(cause, start).found]).toEqual([cause, cause]);
  });

  it("case C24: on a serial port, what the system says of it counts; a silent one is told apart by tries", () => {
    expect(first({ cable: "nothing", port: "held" })).toBe("held");
    expect(first({ cable: "nothing", port: "refused" })).toBe("not-allowed");
    expect(first({ cable: "nothing", port: "absent" })).toBe("port-gone");
    for (const cause of ["wires", "no-power", "waits-in-loader", "foreign-console"])
      expect([cause, found(cause, { cable: "nothing", port: "silent" }).found]).toEqual([cause, cause]);
  });

  it("case C45: an erased loader is told from dead hardware by the adapter", () => {
    const seen = { cable: "nothing", lamp: "dark", "other-cable": "same", button: "same", "other-socket": "appears" };
    expect(diagnose(seen).next?.id).toBe("adapter");
    expect(first({ ...seen, adapter: "loader" })).toBe("loader-erased");
    expect(first({ ...seen, adapter: "same" })).toBe("dead");
  });

  it("case C57: firmware of another board is told from a broken gyro by its marking, or by the model that it is", () => {
    const seen = { cable: "console", port: "usb", gyro: "silent", part: "answers" };
    expect(diagnose(seen).next?.id).toBe("marking");
    expect(first({ ...seen, marking: "other" })).toBe("wrong-target");
    expect(first({ ...seen, marking: "same" })).toBe("gyro-broken");
    expect(first({ ...seen, model: "contradicts" })).toBe("wrong-target");
    expect(first({ ...seen, model: "agrees" })).toBe("gyro-broken");
  });

  it("a co-processor that does not answer is told from another board's firmware and from a broken gyro", () => {
    const seen = { cable: "console", port: "usb", gyro: "silent", part: "silent" };
    expect(first(seen)).toBe("part-silent");
    expect(diagnose({ ...seen, model: "agrees" }).next).toBeUndefined();
    expect(first({ ...seen, part: "answers", model: "contradicts" })).toBe("wrong-target");
  });

  it("case C44: what comes and goes trips over its settings", () => {
    const { causes, next } = diagnose({ cable: "flickers" });
    expect(causes[0]?.cause.id).toBe("looping");
    expect(causes[0]?.certainty).toBeGreaterThan(0.8);
    expect(causes[0]?.speaksFor).toEqual(["On the cable: comes and goes"]);
    expect(next === undefined || next.id === "lamp").toBe(true);
  });

  it("a silent gyro speaks for another board's firmware before it speaks for a broken one", () => {
    const { causes } = diagnose({ cable: "console", gyro: "silent", part: "answers" });
    expect(causes.slice(0, 2).map(({ cause }) => cause.id)).toEqual(["wrong-target", "gyro-broken"]);
    expect(first({ cable: "console", gyro: "answers" })).toBe("well");
  });

  it("every cause says what it shows in words that its symptoms have, and what to do", () => {
    for (const cause of CAUSES) {
      for (const [id, answer] of Object.entries(cause.shows)) {
        const symptom = SYMPTOMS.find((each) => each.id === id);
        expect([cause.id, id, Object.keys(symptom?.answers ?? {})]).toEqual([
          cause.id,
          id,
          expect.arrayContaining([answer]),
        ]);
      }
      if (cause.id !== "well") expect(cause.remedy.length).toBeGreaterThan(0);
    }
  });

  it("whatever is seen, certainties add up, nothing is asked twice, and unknown words say nothing", () => {
    const seenOf = fc
      .uniqueArray(fc.constantFrom(...SYMPTOMS), { selector: ({ id }) => id })
      .chain((symptoms) =>
        fc.tuple(
          ...symptoms.map(({ id, answers }) => fc.tuple(fc.constant(id), fc.constantFrom(...Object.keys(answers)))),
        ),
      )
      .map((pairs) => Object.fromEntries(pairs));
    fc.assert(
      fc.property(seenOf, (seen) => {
        const { causes, next } = diagnose(seen);
        expect(causes.reduce((sum, { certainty }) => sum + certainty, 0)).toBeCloseTo(1, 9);
        if (next) expect(seen[next.id]).toBeUndefined();
        expect(diagnose({ ...seen, nonsense: "yes", lamp: seen.lamp ?? "green" })).toEqual(diagnose(seen));
        for (const { speaksFor, against } of causes)
          expect(speaksFor.filter((title) => against.includes(title))).toEqual([]);
      }),
    );
  });
});
