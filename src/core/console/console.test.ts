import { askCommand, keepSettings, plainLines, sendLines, settleConsole } from "@/core/console/drive";
import { startSending, stepSending } from "@/core/console/send";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { catalogue, CHIP, imageFile, statementIdiom } from "../../../tests/support/workshop";

const idiom = statementIdiom();
const encode = (text: string) => new TextEncoder().encode(text);
const heard = (text: string, atUs: number) => ({ kind: "bytes", bytes: encode(text), atUs }) as const;

async function onWire(baud: number) {
  const model = catalogue().models.get("corsley-slate");
  if (!model) throw new Error("no model");
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(imageFile("heddle-22", "CSLATE-B"));
  board.uartBaud = baud;
  const link = linkTo(board, virtualClock());
  board.setBattery(0, true);
  await link.clock.waitUntil(2_000_000);
  const send = (lines: readonly string[], windowBytes: number) =>
    sendLines(link.console, plainLines(lines), idiom, { windowBytes, quietUs: 2_000_000 });
  await send(["hush"], 8);
  return { board, link, send };
}

const LINES = Array.from({ length: 120 }, (_, i) => `put compass.zero.x ${i}`);

describe("case C27: paced sending over a bare UART with an input buffer of 256 bytes", () => {
  it.each([9_600, 115_200, 921_600])("loses nothing at %d baud", async (baud) => {
    const { board, send } = await onWire(baud);
    const state = await send(LINES, 256);
    expect(state.answers.every((answer) => answer?.answer === "accepted")).toBe(true);
    expect(board.lostBytes).toBe(0);
  });

  it("what is sent without pacing is lost by the board: the simulated buffer is a real one", async () => {
    const { board, link } = await onWire(3_000_000);
    await link.console.send(encode(LINES.map((line) => `${line}\n`).join("")));
    await link.clock.waitUntil(link.clock.nowUs() + 5_000_000);
    board.takeSerial(link.clock.nowUs());
    expect(board.lostBytes).toBeGreaterThan(100);
  });

  it("a window that is too large for the board: every line that is said to be taken was taken", async () => {
    const { send, board } = await onWire(3_000_000);
    const lines = LINES.slice(0, 40);
    const state = await send(lines, 420);
    expect(board.lostBytes).toBeGreaterThan(0);
    const taken = board.mode.kind === "console" ? board.mode.app.values.get("system/compass.zero.x") : undefined;
    const last = state.answers.findLastIndex((answer) => answer?.answer === "accepted");
    const said = Number(lines[last]?.split(" ")[2]);
    expect(state.problem?.code ?? taken).toBe(state.problem ? "console-silent" : said);
    expect(state.restarts).toBeGreaterThan(0);
  });
});

describe("taking a console over", () => {
  it("a half line that somebody left is ended first: the next line is read as it was sent", async () => {
    const { board, link, send } = await onWire(115_200);
    await link.console.send(encode("put loop.ra"));
    await settleConsole(link.console);
    const state = await send(["put loop.rate 6"], 64);
    expect(state.answers[0]?.answer).toBe("accepted");
    expect(board.mode.kind === "console" && board.mode.app.values.get("system/loop.rate")).toBe(6);
  });

  it("bytes stay bytes: what is no UTF-8 comes through as it was received, and a character cut in two is whole again", async () => {
    const { link } = await onWire(115_200);
    const word = encode('put craft.note "µ"\n');
    const cut = word.indexOf(0xb5);
    await link.console.send(word.subarray(0, cut));
    await link.console.send(word.subarray(cut));
    await settleConsole(link.console);
    const reply = await askCommand(link.console, idiom, "recite");
    expect(reply.ok && new TextDecoder().decode(reply.value.raw)).toContain("put craft.note µ\n");
    const noise = Uint8Array.of(0xff, 0x00, 0xc3, 0x0a);
    const step = stepSending(
      stepSending(
        startSending(plainLines(["sense"]), { windowBytes: 64, quietUs: 1000 }),
        { kind: "start", atUs: 0 },
        idiom,
      ).state,
      { kind: "bytes", bytes: noise, atUs: 5 },
      idiom,
    );
    expect(step.state.raw).toEqual([noise]);
  });

  it("the window counts bytes on the wire, not characters", async () => {
    const { board, send } = await onWire(921_600);
    const lines = Array.from({ length: 40 }, () => `put craft.note ${"µ".repeat(12)}`);
    const state = await send(lines, 256);
    expect(state.answers.every((answer) => answer?.answer === "accepted")).toBe(true);
    expect(board.lostBytes).toBe(0);
    const first = stepSending(
      startSending(plainLines(lines), { windowBytes: 100, quietUs: 1 }),
      { kind: "start", atUs: 0 },
      idiom,
    );
    expect(encode(first.send ?? "").length).toBeLessThanOrEqual(100);
  });
});

describe("answers", () => {
  it("tell accepted, adjusted and each cause of a refusal", async () => {
    const { send } = await onWire(115_200);
    const lines = [
      "put loop.rate 4",
      "put no.such 1",
      "put loop.rate 99",
      "put receiver.protocol dove",
      "row ports 7 use=receiver",
      "use tune 9",
      "put servo.rate 54",
    ];
    const { answers } = await send(lines, 256);
    expect(answers.map((a) => a?.cause ?? a?.answer)).toEqual([
      "accepted",
      "unknown-name",
      "out-of-range",
      "out-of-range",
      "not-here",
      "unknown-name",
      "adjusted",
    ]);
    expect(answers[6]?.text).toBe("50");
  });

  it("case C28: after refused lines the board is told twice, and stores all the same", async () => {
    const { link, send, board } = await onWire(115_200);
    await send(["put no.such 1", "put loop.rate 5"], 256);
    const kept = await keepSettings(link.console, idiom);
    expect(kept.ok && kept.value.twice).toBe(true);
    await askCommand(link.console, idiom, "restart");
    await link.clock.waitUntil(link.clock.nowUs() + 3_000_000);
    link.presence();
    expect(board.mode.kind === "console" && board.mode.app.values.get("system/loop.rate")).toBe(5);
  });

  it("a console that never answers ends as a problem", () => {
    let step = stepSending(
      startSending(plainLines(["put a 1"]), { windowBytes: 64, quietUs: 1000 }),
      { kind: "start", atUs: 0 },
      idiom,
    );
    for (let atUs = 1000; step.state.phase === "sending" && atUs < 100_000; atUs += 1000)
      step = stepSending(step.state, { kind: "time", atUs }, idiom);
    expect(step.state.problem?.code).toBe("console-silent");
  });

  it("a garbled line is drained and begun again where its profile was chosen", () => {
    const lines = [
      { text: "use tune 2", anchor: 0 },
      { text: "put roll.push 1", anchor: 0 },
      { text: "put roll.push 2", anchor: 0 },
    ];
    let step = stepSending(startSending(lines, { windowBytes: 256, quietUs: 1000 }), { kind: "start", atUs: 0 }, idiom);
    step = stepSending(step.state, heard("= so\n= not so, muddled: ?\n= so\n", 10), idiom);
    expect(step.send).toBeUndefined();
    step = stepSending(step.state, { kind: "time", atUs: 2000 }, idiom);
    expect(step.send).toBe("\nuse tune 2\nput roll.push 1\nput roll.push 2\n");
    step = stepSending(step.state, heard("= so\n= so\n= so\n", 2010), idiom);
    expect(step.state.phase).toBe("done");
  });
});
