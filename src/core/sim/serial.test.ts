import fc from "fast-check";
import { arrive, nextEventUs, print, serialEngine, takeOutput, workUntil, type LineWorker } from "@/core/sim/serial";

/** Answers each line with its own text; each costs the same. */
const echo = (costUs: number, seen: string[] = []): LineWorker => ({
  costUs: () => costUs,
  work: (line) => {
    seen.push(line);
    return `${line}!\n`;
  },
  tooLong: () => {
    seen.push("too long");
    return "?\n";
  },
});

const lines = fc.array(fc.string({ unit: fc.constantFrom("a", "b", "c"), minLength: 1, maxLength: 20 }), {
  minLength: 1,
  maxLength: 30,
});

describe("the receiving side of a console", () => {
  it("with flow control nothing is lost, however slowly lines are worked off", () => {
    fc.assert(
      fc.property(
        lines,
        fc.integer({ min: 0, max: 5000 }),
        fc.integer({ min: 24, max: 200 }),
        (sent, cost, bufferBytes) => {
          const seen: string[] = [];
          const engine = serialEngine({ byteUs: 1, bufferBytes, flowControl: true }, 0);
          arrive(engine, echo(cost, seen), sent.map((line) => `${line}\n`).join(""), 0);
          workUntil(engine, echo(cost, seen), 1e9);
          expect(seen).toEqual(sent);
          expect(engine.lostBytes).toBe(0);
          expect(engine.buffered).toBe(0);
        },
      ),
    );
  });

  it("on a bare line, what does not fit the buffer is lost without a word, and counted", () => {
    fc.assert(
      fc.property(lines, (sent) => {
        const text = sent.map((line) => `${line}\n`).join("");
        const engine = serialEngine({ byteUs: 1, bufferBytes: 8, flowControl: false }, 0);
        const seen: string[] = [];
        arrive(engine, echo(1e6, seen), text, 0);
        workUntil(engine, echo(1e6, seen), 1e9);
        expect(engine.buffered + engine.lostBytes + seen.join("\n").length + seen.length).toBeGreaterThanOrEqual(
          Math.min(text.length, 8),
        );
        expect(engine.lostBytes).toBeLessThanOrEqual(text.length);
        if (text.length > 64) expect(engine.lostBytes).toBeGreaterThan(0);
      }),
    );
  });

  it("a fast worker on a bare line loses nothing either", () => {
    const engine = serialEngine({ byteUs: 100, bufferBytes: 16, flowControl: false }, 0);
    const seen: string[] = [];
    arrive(engine, echo(50, seen), "one\ntwo\nthree\n", 0);
    workUntil(engine, echo(50, seen), 1e6);
    expect([seen, engine.lostBytes]).toEqual([["one", "two", "three"], 0]);
  });

  it("an answer is there when its line was worked off and its bytes have crossed the line, not before", () => {
    const engine = serialEngine({ byteUs: 10, bufferBytes: 64, flowControl: false }, 1000);
    const worker = echo(500);
    arrive(engine, worker, "abc\n", 1000);
    // 4 bytes at 10 µs, 500 µs of work, 5 bytes of answer at 10 µs
    expect(takeOutput(engine, worker, 1589)).toBe("");
    expect(takeOutput(engine, worker, 1590)).toBe("abc!\n");
    expect(nextEventUs(engine, worker)).toBeUndefined();
  });

  it("half a line waits for its end, across calls", () => {
    const engine = serialEngine({ byteUs: 1, bufferBytes: 64, flowControl: true }, 0);
    const seen: string[] = [];
    arrive(engine, echo(1, seen), "put lo", 0);
    workUntil(engine, echo(1, seen), 1e6);
    expect(seen).toEqual([]);
    arrive(engine, echo(1, seen), "op 4\n", 1e6);
    workUntil(engine, echo(1, seen), 2e6);
    expect(seen).toEqual(["put loop 4"]);
  });

  it("CR, LF and both end a line; backspace takes back what was typed", () => {
    const typed = fc.array(
      fc.tuple(
        fc.string({ unit: fc.constantFrom("a", "b"), minLength: 1, maxLength: 6 }),
        fc.nat(8),
        fc.constantFrom("\r", "\n", "\r\n"),
        fc.constantFrom("\b", "\x7f"),
      ),
      { minLength: 1, maxLength: 12 },
    );
    fc.assert(
      fc.property(typed, fc.boolean(), (parts, flowControl) => {
        const engine = serialEngine({ byteUs: 1000, bufferBytes: 16, flowControl }, 0);
        const seen: string[] = [];
        // what is rubbed out leaves nothing, and rubbing out more than there is does no harm
        const text = parts.map(
          ([line, rubbed, end, rub]) =>
            `${"ab".repeat(Math.min(rubbed, 6)).slice(0, rubbed)}${rub.repeat(rubbed + 2)}${line}${end}`,
        );
        arrive(engine, echo(1, seen), text.join(""), 0);
        workUntil(engine, echo(1, seen), 1e9);
        // a line that ends with CR before one that begins with LF would be one end; none does here
        expect([seen, engine.buffered, engine.lostBytes]).toEqual([parts.map(([line]) => line), 0, 0]);
      }),
    );
  });

  it("a line longer than the buffer is refused, and the next one heard", () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: fc.constantFrom("a", "b"), maxLength: 40 }), { minLength: 1, maxLength: 10 }),
        fc.integer({ min: 8, max: 20 }),
        (sent, bufferBytes) => {
          const engine = serialEngine({ byteUs: 1, bufferBytes, flowControl: true }, 0);
          const seen: string[] = [];
          arrive(engine, echo(50, seen), sent.map((line) => `${line}\n`).join(""), 0);
          workUntil(engine, echo(50, seen), 1e9);
          expect(seen).toEqual(sent.map((line) => (line.length > bufferBytes ? "too long" : line)));
          expect(engine.buffered).toBe(0);
        },
      ),
    );
  });

  it("a long print leaves line by line, so that nobody takes it for silence", () => {
    const engine = serialEngine({ byteUs: 1000, bufferBytes: 64, flowControl: false }, 0);
    print(engine, "ab\ncd\nlast", 0);
    expect(engine.outputs).toEqual([
      { atUs: 3000, text: "ab\n" },
      { atUs: 6000, text: "cd\n" },
      { atUs: 10_000, text: "last" },
    ]);
  });
});
