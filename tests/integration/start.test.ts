import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { createServer, type AddressInfo, type Server } from "node:net";
import os from "node:os";
import path from "node:path";

let server: Server;
let port = 0;
beforeAll(async () => {
  server = createServer();
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => server.close());

/** Starts a workshop in a folder whose part has written down a process; gives what was said, and how it ended. */
function startOver(part: string, pid: number, onPort: number): string {
  const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-twice-"));
  writeFileSync(path.join(folder, `${part}.pid`), String(pid));
  const { status, stderr, stdout } = spawnSync(path.resolve("bin/start"), ["--port", String(onPort)], {
    encoding: "utf8",
    env: { ...process.env, FRESH_START_DATA: folder, DATABASE_URL: "postgres://nobody@127.0.0.1:1/none" },
    timeout: 30_000,
  });
  return `${status ?? "none"} ${stderr}${stdout}`;
}

describe("case C92: two starts in one folder", () => {
  it.each([
    ["web", "src/server/web/serve.ts"],
    ["bench", "src/bench/main.ts"],
    ["keeper", "src/server/admin/keeper.ts"],
  ])("the second names the first's %s and ends, whatever port it is given", (part, program) => {
    // a process by the name of that part, as it stands in its command line
    const child = spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)", "--", program], { stdio: "ignore" });
    try {
      for (const onPort of [port, 4999]) {
        const said = startOver(part, child.pid ?? 0, onPort);
        expect(said).toContain(`it runs already: its ${part} is process ${child.pid ?? ""}`);
        expect(said).toMatch(/^1 /);
      }
    } finally {
      child.kill("SIGKILL");
    }
  });

  it("says to stop whoever watches over the parts: a part alone is started again", async () => {
    const part = `require("node:child_process").spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)", "--", "src/server/web/serve.ts"], { stdio: "ignore" })`;
    const watcher = spawn(
      process.execPath,
      ["-e", `console.log(${part}.pid); setTimeout(() => {}, 60000)`, "--", "bin/lib/supervise.mjs"],
      { stdio: ["ignore", "pipe", "ignore"] },
    );
    const pid = await new Promise<number>((resolve) => {
      watcher.stdout.once("data", (said: Buffer) => resolve(Number(said.toString())));
    });
    try {
      const said = startOver("web", pid, port);
      expect(said).toContain(`its web is process ${pid}`);
      expect(said).toContain(`or with kill ${watcher.pid ?? ""}`);
    } finally {
      watcher.kill("SIGKILL");
      process.kill(pid, "SIGKILL");
    }
  });

  it("of two at once, the second names the first while that is still being made ready", () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-twice-"));
    const lock = path.join(folder, "start.lock");
    // as the first holds it: for as long as it lives
    const first = spawn("flock", [lock, "sh", "-c", `echo $$ >${lock}; sleep 60`], { stdio: "ignore" });
    try {
      spawnSync("sleep", ["0.5"]);
      const { status, stderr } = spawnSync(path.resolve("bin/start"), ["--port", String(port)], {
        encoding: "utf8",
        env: { ...process.env, FRESH_START_DATA: folder, DATABASE_URL: "postgres://nobody@127.0.0.1:1/none" },
      });
      expect([status, stderr]).toEqual([
        1,
        expect.stringMatching(/it is being started already, by process \d+/) as string,
      ]);
    } finally {
      first.kill("SIGKILL");
    }
  });

  it("a process of somebody else's that has got the number is never named", () => {
    const child = spawn("sleep", ["60"], { stdio: "ignore" });
    try {
      const said = startOver("web", child.pid ?? 0, port);
      expect(said).not.toContain("it runs already");
      expect(said).toContain(`port ${port} is taken by another program`);
    } finally {
      child.kill("SIGKILL");
    }
  });
});
