import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import path from "node:path";

/** A simulated board behind a pseudo-terminal, as `bin/board` runs it: nothing between it and the bench but the system's port. */
export interface PortBoard {
  readonly port: string;
  /** Hands, by their word. */
  hand(words: string): void;
  quit(): Promise<void>;
}

export async function portBoard(name: string, options: readonly string[] = []): Promise<PortBoard> {
  const data = process.env.FRESH_START_DATA;
  if (data === undefined) throw new Error("FRESH_START_DATA is not set");
  const root = path.resolve(__dirname, "../..");
  const child = spawn(process.execPath, ["--import", "tsx", "demo/board.ts", name, ...options], {
    cwd: root,
    env: { ...process.env, FRESH_START_DATA: data },
    stdio: ["pipe", "pipe", "inherit"],
  });
  const ended = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  await new Promise<void>((resolve, reject) => {
    child.stdout.once("data", () => resolve());
    child.once("exit", (code) => reject(new Error(`the board ended with ${code}`)));
  });
  const named = options[options.indexOf("--port") + 1];
  const port = path.join(data, "ports", options.includes("--port") && named !== undefined ? named : name);
  const end = Date.now() + 10_000;
  const unplugged = options.includes("--unplugged");
  while (!unplugged && !existsSync(port) && Date.now() < end) await new Promise((resolve) => setTimeout(resolve, 20));
  return {
    port,
    hand: (words) => child.stdin.write(`${words}\n`),
    quit: async () => {
      child.stdin.write("quit\n");
      await ended;
    },
  };
}
