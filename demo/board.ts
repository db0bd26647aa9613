import { spawn, type ChildProcess } from "node:child_process";
import { mkdirSync, existsSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { loaderOn } from "@/core/catalog";
import { ProblemError, problemOf } from "@/core/problem";
import { NO_FAULTS, resumeBoard, snapshotOf, type BoardSnapshot, type SimBoard } from "@/core/sim";
import { demoCatalogue } from "./documents";
import { DEMO_FLEET, DEMO_NEW_BOARDS } from "./fleet";
import { makeBoard, typeLines } from "./make-board";

const dataFolder = () => path.resolve(process.env.FRESH_START_DATA ?? ".data");
/** Speed of a bare UART: the usual one of consoles. */
const UART_BAUD = 115_200;
const TICK_MS = 2;
const HANDS = [
  "plug, plug button, plug pads    the cable in; with the boot button held, with the boot pads bridged",
  "unplug                          the cable out",
  "battery in, battery out, battery in second, battery out second",
  "lean ROLL PITCH HEADING         how the airframe is held, in degrees",
  "stick N PULSE                   stick 0 to 3, in µs",
  `fault NAME VALUE                ${Object.keys(NO_FAULTS).join(", ")}`,
  "look                            what a person sees of it",
  "quit                            ends it; its flash is kept",
];

/** Every board of the demo that can be had, by what it is called here. */
const boards = () => [
  ...DEMO_FLEET.map((aircraft) => ({ name: aircraft.tag, aircraft })),
  ...DEMO_NEW_BOARDS.map((fresh, i) => ({ name: `new-${i + 1}`, aircraft: { ...fresh, lines: [] } })),
];

/** A simulated board behind a pseudo-terminal: what it says and hears goes through the operating system's own port. */
class Terminal {
  private process: ChildProcess | undefined;

  constructor(
    readonly link: string,
    private readonly onBytes: (bytes: Uint8Array) => void,
  ) {}

  stand(wanted: boolean): void {
    if (wanted && !this.process) this.open();
    if (!wanted && this.process) {
      this.process.kill();
      this.process = undefined;
      rmSync(this.link, { force: true });
    }
  }

  private open(): void {
    const made = spawn("socat", [`PTY,link=${this.link},rawer`, "STDIO"], { stdio: ["pipe", "pipe", "inherit"] });
    this.process = made;
    made.stdout.on("data", (bytes: Buffer) => this.onBytes(new Uint8Array(bytes)));
    made.stdin.on("error", () => undefined);
    // whoever had it open has closed it: the port stands there again
    made.on("exit", () => {
      if (this.process === made) this.process = undefined;
    });
  }

  write(bytes: Uint8Array): void {
    if (bytes.length > 0) this.process?.stdin?.write(bytes);
  }
}

/** Whether the host's port is there: a USB console comes and goes with its board, an adapter and a bridge stay. */
function portStands(board: SimBoard, nowUs: number): boolean {
  if (board.adapter) return true;
  return loaderOn(board.processor, "usb") ? board.shows(nowUs) === "console" : board.cable;
}

/** What goes over the port, and what does not: a loader on USB is a device of its own, which no port carries. */
function carries(board: SimBoard): string {
  const all = "Backups, restores and checks go over it";
  if (loaderOn(board.processor, "serial") && (board.adapter || !loaderOn(board.processor, "usb")))
    return `${all}, and what writes firmware by its serial loader.`;
  return `${all}. What writes firmware does not: its loader is on USB, which this port does not carry. A simulated socket has both.`;
}

function lay(board: SimBoard, line: string, nowUs: number): string {
  const [word = "", ...rest] = line.trim().split(/\s+/);
  const numbers = rest.map(Number);
  switch (word) {
    case "plug":
      board.plug(nowUs, { button: rest[0] === "button", pads: rest[0] === "pads" });
      return "plugged in";
    case "unplug":
      board.unplug(nowUs);
      return "unplugged";
    case "battery":
      board.setBattery(nowUs, rest[0] === "in", rest[1] === "second" ? "second battery" : "battery");
      return `batteries in: ${[...board.batteries].join(", ") || "none"}`;
    case "lean": {
      const [roll = 0, pitch = 0, heading = 0] = numbers.map((n) => (Number.isFinite(n) ? n : 0));
      Object.assign(board.senses, { roll, pitch, heading });
      return `roll ${roll}, pitch ${pitch}, heading ${heading}`;
    }
    case "stick": {
      const [index = -1, pulse = 1500] = numbers;
      board.senses.sticks = board.senses.sticks.map((old, i) => (i === index ? pulse : old));
      return board.senses.sticks.join(" ");
    }
    case "fault": {
      const name = rest[0] ?? "";
      if (!(name in NO_FAULTS)) return `There is no fault “${name}”`;
      const value = numbers[1] ?? 1;
      board.faults = { ...board.faults, [name]: name === "stallEvery" ? value : value !== 0 };
      return `${name}: ${value}`;
    }
    case "look":
      return `${board.powered ? "powered" : "no power"}, its lamp is ${board.lamp}; on the cable: ${board.shows(nowUs)}`;
    default:
      return HANDS.join("\n");
  }
}

async function boardOf(name: string, fresh: boolean): Promise<{ board: SimBoard; fromUs: number; keep: () => void }> {
  const found = boards().find((each) => each.name === name);
  if (!found)
    throw new ProblemError({
      code: "board-none",
      message: `The demo has no board “${name}”`,
      detail: `There are: ${boards()
        .map((each) => each.name)
        .join(", ")}`,
    });
  const catalogue = demoCatalogue();
  const folder = path.join(dataFolder(), "boards");
  const file = path.join(folder, `${name}.flash`);
  const notes = path.join(folder, `${name}.json`);
  const { board, link } = await makeBoard(found.aircraft, catalogue, 0);
  const stored = !fresh && existsSync(file) && existsSync(notes);
  if (!stored && found.aircraft.lines.length > 0)
    await typeLines(link, catalogue, { ...found.aircraft, tag: name }, found.aircraft.lines);
  board.unplug(link.clock.nowUs());
  if (stored) {
    board.flash.bytes.set(readFileSync(file));
    resumeBoard(board, { ...(JSON.parse(readFileSync(notes, "utf8")) as BoardSnapshot), running: "off" }, 0);
  }
  const keep = () => {
    mkdirSync(folder, { recursive: true });
    writeFileSync(file, board.flash.bytes);
    writeFileSync(notes, JSON.stringify(snapshotOf(board)));
  };
  return { board, fromUs: link.clock.nowUs(), keep };
}

async function main() {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      adapter: { type: "boolean", default: false },
      fresh: { type: "boolean", default: false },
      unplugged: { type: "boolean", default: false },
      pace: { type: "string", default: "1" },
      port: { type: "string" },
    },
  });
  const [name = ""] = positionals;
  if (values.port !== undefined && !/^[\w-]{1,32}$/.test(values.port))
    throw new ProblemError({ code: "board-port", message: "--port wants a name of letters, digits, _ and -" });
  const pace = Number(values.pace);
  if (!(pace > 0 && pace <= 1000))
    throw new ProblemError({ code: "board-pace", message: "--pace wants a number above 0, at most 1,000" });
  const { board, fromUs, keep } = await boardOf(name, values.fresh);
  const startMs = performance.now();
  const nowUs = () => fromUs + (performance.now() - startMs) * 1000 * pace;
  if (values.adapter) {
    board.adapter = true;
    board.uartBaud ??= UART_BAUD;
  }
  const folder = path.join(dataFolder(), "ports");
  mkdirSync(folder, { recursive: true });
  const terminal = new Terminal(path.join(folder, values.port ?? name), (bytes) => board.sendSerial(bytes, nowUs()));
  if (!values.unplugged) board.plug(nowUs());
  const timer = setInterval(() => {
    const now = nowUs();
    terminal.write(board.takeSerial(now));
    terminal.stand(portStands(board, now));
  }, TICK_MS);
  const end = () => {
    clearInterval(timer);
    terminal.stand(false);
    keep();
    process.exit(0);
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
  console.log(
    `The board of ${name} is on ${terminal.link}.\n${carries(board)}\nHands:\n${HANDS.map((line) => `  ${line}`).join("\n")}`,
  );
  const hands = createInterface({ input: process.stdin });
  hands.on("line", (line) => {
    if (line.trim() === "quit") end();
    else console.log(lay(board, line, nowUs()));
  });
}

main().catch((error: unknown) => {
  const { message, detail } = problemOf(error);
  console.error(`There is no board: ${message}${detail === undefined ? "" : `. ${detail}`}`);
  process.exit(1);
});
