import { spawn, type ChildProcessWithoutNullStreams } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { received, startXmodemReceive, stepXmodemReceive } from "@/core/loader/serial/receive";
import { startXmodemSend, stepXmodemSend, type LineEvent, type LineStep } from "@/core/loader/serial/send";

/** The other end of the line is Debian's lrzsz, on a pseudo-terminal of its own. */
const folder = mkdtempSync(path.join(tmpdir(), "xmodem-"));
afterAll(() => rmSync(folder, { recursive: true }));

const bytesOf = (length: number) => Uint8Array.from({ length }, (_, i) => (i * 2654435761) >>> 24);

/** A tool behind a pseudo-terminal: what it writes comes as bytes, what it reads goes in as such. */
function behindTerminal(command: string): ChildProcessWithoutNullStreams {
  // the terminal passes every byte as it is before the tool sets it so itself, and stays until the last answer is through
  const words = `stty raw -echo; ${command}; code=$?; sleep 0.3; exit $code`;
  return spawn("script", ["-qfec", words, "/dev/null"], { cwd: folder });
}

async function run<S extends { readonly phase: string }>(
  tool: ChildProcessWithoutNullStreams,
  first: LineStep<S>,
  step: (state: S, event: LineEvent) => LineStep<S>,
): Promise<{ state: S; exit: number | null }> {
  const inbox: Uint8Array[] = [];
  let wake: (() => void) | undefined;
  tool.stdout.on("data", (data: Buffer) => {
    inbox.push(new Uint8Array(data));
    wake?.();
  });
  const line = { gone: false };
  const exited = new Promise<number | null>((resolve) =>
    tool.on("close", (code) => {
      line.gone = true;
      wake?.();
      resolve(code);
    }),
  );
  let now = first;
  while (now.state.phase !== "done" && now.state.phase !== "failed" && !(line.gone && inbox.length === 0)) {
    if (now.send) tool.stdin.write(now.send);
    if (inbox.length === 0)
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, now.waitMs);
        wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
    wake = undefined;
    const bytes = inbox.shift();
    now = step(now.state, bytes ? { kind: "bytes", bytes } : { kind: "quiet" });
  }
  if (now.send) tool.stdin.write(now.send);
  return { state: now.state, exit: await exited };
}

describe.each([1, 128, 1025, 20_000])("XMODEM of %i bytes against another program", (length) => {
  const data = bytesOf(length);

  it.each(["-c", ""])("is received by it (rx %s)", async (option) => {
    const name = `got-${length}${option}`;
    const { state, exit } = await run(behindTerminal(`rx -b ${option} ${name}`), startXmodemSend(data), stepXmodemSend);
    // giving its terminal back, it may throw away its answer to the end: then it has gone, and all was acknowledged
    expect(["done", "end"]).toContain(state.phase);
    expect([state.problem, state.doneBytes, exit]).toEqual([undefined, length, 0]);
    expect(state.check).toBe(option === "-c" ? "crc" : "sum");
    const got = new Uint8Array(readFileSync(path.join(folder, name)));
    expect(Buffer.compare(got.subarray(0, length), data)).toBe(0);
    expect(got.subarray(length).every((byte) => byte === 0x1a)).toBe(true);
  });

  it.each(["-k", ""])("is sent by it (sx %s)", async (option) => {
    const name = `give-${length}`;
    writeFileSync(path.join(folder, name), data);
    const { state, exit } = await run(
      behindTerminal(`sx -b ${option} ${name}`),
      startXmodemReceive(length),
      stepXmodemReceive,
    );
    expect([state.phase, exit]).toEqual(["done", 0]);
    expect(Buffer.compare(received(state), data)).toBe(0);
  });
});
