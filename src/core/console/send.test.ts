import fc from "fast-check";
import { settleConsole, ask, plainLines, sendScript, type ConsolePort } from "@/core/console/drive";
import { sizeOf, startSending, stepSending, wakeAt, type SendState, type SendStep } from "@/core/console/send";
import { statementIdiom } from "../../../tests/support/workshop";

const idiom = statementIdiom();
const encoder = new TextEncoder();
const decoder = new TextDecoder();
const start = (texts: readonly string[], windowBytes = 64, maxRestarts?: number): SendStep =>
  stepSending(
    startSending(plainLines(texts), {
      windowBytes,
      quietUs: 1000,
      ...(maxRestarts === undefined ? {} : { maxRestarts }),
    }),
    { kind: "start", atUs: 0 },
    idiom,
  );
const hear = (state: SendState, text: string, atUs: number) =>
  stepSending(state, { kind: "bytes", bytes: encoder.encode(text), atUs }, idiom);
const wait = (state: SendState, atUs: number) => stepSending(state, { kind: "time", atUs }, idiom);

/** What a console of this idiom does with lines, apart from the product: it takes them in order and answers each. */
class Console {
  readonly taken: string[] = [];
  private half = "";
  private unread = 0;
  most = 0;

  /** The answers to whole lines; `lose` says which of them (counted over all) the board misses. */
  take(bytes: string, lose: ReadonlySet<number>, count: { lines: number }): string {
    let out = "";
    this.unread += encoder.encode(bytes).length;
    this.most = Math.max(this.most, this.unread);
    const lines = (this.half + bytes).split("\n");
    this.half = lines.pop() ?? "";
    for (const line of lines) {
      this.unread -= encoder.encode(line).length + 1;
      if (line === "" || lose.has(count.lines++)) continue;
      this.taken.push(line);
      out += line.includes("show") ? `told ${line}\r\n= so\r\n` : "= so\n";
    }
    return out;
  }
}

describe("the paced sender, over drawn lines, windows, losses and cuts of what comes back", () => {
  it("never has more on its way than the board can hold, and each line is answered by what was printed for it", () => {
    const drawn = fc.record({
      lines: fc.array(fc.constantFrom("put a 1", "put b.c 22", "show it", `put note ${"µ".repeat(6)}`), {
        minLength: 1,
        maxLength: 25,
      }),
      windowBytes: fc.integer({ min: 1, max: 90 }),
      lose: fc.uniqueArray(fc.nat(24), { maxLength: 3 }),
      pieces: fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 8 }),
    });
    fc.assert(
      fc.property(drawn, ({ lines, windowBytes, lose, pieces }) => {
        const board = new Console();
        const count = { lines: 0 };
        let [step, atUs] = [start(lines, windowBytes), 0];
        for (let turn = 0; step.state.phase === "sending" && turn < 400; turn++) {
          const bytes = step.send === undefined ? "" : board.take(step.send, new Set(lose), count);
          const onWay = step.state.waiting.reduce((sum, at) => sum + sizeOf({ text: lines[at] ?? "" }), 0);
          expect(step.state.waitingBytes).toBe(onWay);
          expect(onWay <= windowBytes || step.state.waiting.length === 1).toBe(true);
          if (bytes === "") step = wait(step.state, (atUs += 1000));
          else {
            let send = "";
            const all = encoder.encode(bytes);
            for (let from = 0, i = 0; from < all.length; i++) {
              const size = pieces[i % pieces.length] ?? 1;
              const part = all.slice(from, from + size);
              step = stepSending(step.state, { kind: "bytes", bytes: part, atUs: ++atUs }, idiom);
              send += step.send ?? "";
              from += size;
            }
            step = { state: step.state, ...(send === "" ? {} : { send }) };
          }
        }
        expect(step.state.phase).toBe("done");
        expect(step.state.restarts).toBeLessThanOrEqual(lose.length);
        if (lose.every((at) => at >= lines.length)) {
          expect(board.taken).toEqual(lines);
          expect(step.state.restarts).toBe(0);
          expect(step.state.answers.map((answer) => answer?.output)).toEqual(
            lines.map((line) => (line.includes("show") ? [`told ${line}`] : [])),
          );
          expect(decoder.decode(Uint8Array.from(step.state.raw.flatMap((part) => [...part])))).toBe(
            lines.map((line) => (line.includes("show") ? `told ${line}\r\n= so\r\n` : "= so\n")).join(""),
          );
        }
      }),
    );
  });

  it("a window that the lines fill to the byte is used to the byte", () => {
    expect(start(["put a 1", "put b 2", "put c 3"], 16).send).toBe("put a 1\nput b 2\n");
    expect(start(["put a 1", "put b 2", "put c 3"], 15).send).toBe("put a 1\n");
    expect(start(["put a 1"], 3).send).toBe("put a 1\n");
    expect(start([]).state.phase).toBe("done");
  });

  it("a place in the window is free again with each answer", () => {
    const step = hear(start(["put a 1", "put b 2", "put c 3", "put d 4"], 16).state, "= so\n", 1);
    expect(step.send).toBe("put c 3\n");
    expect(step.state.waitingBytes).toBe(16);
  });
});

describe("a console that says nothing", () => {
  it("is waited for until its time is over, not a µs less", () => {
    const { state } = start(["put a 1"]);
    expect(wakeAt(state)).toBe(1000);
    expect(wait(state, 999)).toEqual({ state });
    expect(wait(state, 1000).state).toMatchObject({ restarts: 1, restartAt: 0, waiting: [], waitingBytes: 0 });
  });

  it.each([
    [undefined, 3],
    [0, 0],
    [1, 1],
  ])(
    "is begun again as often as is allowed (%s), then given up with the line that it stopped at",
    (limit, restarts) => {
      let step = start(["put a 1", "put b 2"], 8, limit);
      step = hear(step.state, "= so\n", 10);
      let sent = 0;
      for (let atUs = 1000; step.state.phase === "sending" && atUs < 50_000; atUs += 1000) {
        step = wait(step.state, atUs + 10);
        if (step.send !== undefined) sent++;
        if (step.send !== undefined) expect(step.send).toBe("\nput b 2\n");
      }
      expect([step.state.phase, step.state.restarts, sent]).toEqual(["failed", restarts, restarts]);
      expect(step.state.problem).toMatchObject({
        code: "console-silent",
        detail: `Silence, ${restarts + 1} times, at line 2 of 2: put b 2`,
      });
      // what ended stays ended
      expect(hear(step.state, "= so\n", 60_000)).toEqual({ state: step.state });
    },
  );

  it("what it says while it is drained answers nothing", () => {
    let step = wait(start(["put a 1", "put b 2"], 64).state, 1000);
    step = hear(step.state, "left over\n= so\nhalf", 1100);
    expect(step.send).toBeUndefined();
    expect(wakeAt(step.state)).toBe(2100);
    step = wait(step.state, 2100);
    expect(step.send).toBe("\nput a 1\nput b 2\n");
    expect(step.state).toMatchObject({ output: [], next: 2, waiting: [0, 1] });
    step = hear(step.state, "= so\n= so\n", 2200);
    expect(step.state.answers.map((answer) => answer?.output)).toEqual([[], []]);
    expect(step.state.phase).toBe("done");
  });

  it("a line that is garbled every time is told as garbled, when all beginnings are used up", () => {
    let step = start(["put a 1"]);
    for (let atUs = 10; step.state.phase === "sending" && atUs < 20_000; atUs += 2000) {
      step = hear(step.state, "= not so, muddled: ?\n", atUs);
      if (step.state.phase === "sending") step = wait(step.state, atUs + 1000);
    }
    expect(step.state).toMatchObject({ phase: "done", restarts: 3 });
    expect(step.state.answers[0]).toMatchObject({ answer: "refused", cause: "garbled", text: "?" });
  });
});

/** A cable whose other end says what it was told to say, each thing at its time. */
class Script implements ConsolePort {
  sent = "";
  private at = 0;
  constructor(private readonly says: readonly (readonly [atUs: number, text: string])[]) {}
  private heard = 0;
  send(bytes: Uint8Array): Promise<void> {
    this.sent += decoder.decode(bytes);
    return Promise.resolve();
  }
  receive(untilUs: number): Promise<Uint8Array | undefined> {
    const next = this.says[this.heard];
    if (!next || next[0] > untilUs) {
      this.at = Math.max(this.at, untilUs);
      return Promise.resolve(undefined);
    }
    this.heard++;
    this.at = Math.max(this.at, next[0]);
    return Promise.resolve(encoder.encode(next[1]));
  }
  nowUs = () => this.at;
}

describe("a console that is taken over", () => {
  it("is settled once it was quiet for a fifth of a second", async () => {
    const port = new Script([
      [100_000, "old"],
      [250_000, "er"],
      [600_000, "late"],
    ]);
    await settleConsole(port);
    expect([port.sent, port.nowUs()]).toEqual(["\n", 450_000]);
  });

  it("that chatters on is left after five seconds", async () => {
    const port = new Script(Array.from({ length: 300 }, (_, i) => [i * 100_000, "noise"]));
    await settleConsole(port);
    expect(port.nowUs()).toBe(5_000_000);
  });

  it("is asked as often as is said, and what came back is kept whole", async () => {
    const reply = await ask(
      new Script([
        [5, "a fact\r\n= "],
        [9, "so\n"],
      ]),
      "sense",
      idiom,
      1,
    );
    expect(reply.ok && [reply.value.answer, reply.value.output, decoder.decode(reply.value.raw)]).toEqual([
      "accepted",
      ["a fact"],
      "a fact\r\n= so\n",
    ]);
    const silent = new Script([]);
    const refused = await ask(silent, "sense", idiom, 1, { maxRestarts: 0 });
    expect([refused.ok, silent.sent, silent.nowUs()]).toEqual([false, "sense\n", 1000]);
  });

  it("tells how many lines of a script were answered, after each", async () => {
    const told: number[] = [];
    const sent = await sendScript(
      new Script([
        [1, "= so\n"],
        [2, "= not so, nameless: no.such\n"],
      ]),
      plainLines(["put a 1", "put no.such 1"]),
      idiom,
      { windowBytes: 64, quietUs: 1000 },
      (answered) => void told.push(answered),
    );
    expect(told).toEqual([1, 2]);
    expect(sent.problem).toBeUndefined();
    expect(sent.answers.map((answer) => answer?.answer)).toEqual(["accepted", "refused"]);
  });
});

describe("a line on which something talks without end", () => {
  it("is given up after its limit, whatever is said and however often, also while it is drained", () => {
    const drawn = fc.record({
      chunks: fc.array(fc.uint8Array({ minLength: 1, maxLength: 20 }), { minLength: 1, maxLength: 6 }),
      everyUs: fc.integer({ min: 1, max: 999 }),
      drainFirst: fc.boolean(),
    });
    fc.assert(
      fc.property(drawn, ({ chunks, everyUs, drainFirst }) => {
        const noise = chunks.map((bytes) => bytes.filter((byte) => byte !== 0x3d));
        const options = { windowBytes: 64, quietUs: 1000, answerLimitUs: 20_000 };
        let step = stepSending(startSending(plainLines(["put a 1"]), options), { kind: "start", atUs: 0 }, idiom);
        let atUs = 0;
        if (drainFirst) step = wait(step.state, (atUs = 1000));
        for (let i = 0; step.state.phase === "sending" && i < 25_000; i++) {
          atUs += everyUs;
          const bytes = noise[i % noise.length] ?? new Uint8Array();
          step = stepSending(step.state, { kind: "bytes", bytes, atUs }, idiom);
        }
        expect(step.state.problem?.code).toBe("console-chatter");
        expect(atUs).toBeLessThanOrEqual(1000 + 20_000 + 2 * everyUs);
      }),
      { numRuns: 30 },
    );
  });

  it("an answer that takes long, and is told all the while, is waited for up to its limit, each anew", () => {
    let step = start(["show it", "put a 1"], 8);
    for (let atUs = 500; atUs < 170_000_000; atUs += 900_000) step = hear(step.state, "more of it\n", atUs);
    step = hear(step.state, "= so\n", 170_000_500);
    expect(step.send).toBe("put a 1\n");
    step = hear(step.state, "muttering\n", 340_000_000);
    expect(step.state.phase).toBe("sending");
    expect(hear(step.state, "muttering\n", 350_000_600).state.problem?.code).toBe("console-chatter");
  });
});
