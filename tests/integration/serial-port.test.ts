import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import path from "node:path";
import { SerialPort } from "serialport";
import { startBench } from "@/bench/bench";
import { openItems } from "@/core/carryover";
import { loaderIdOf, processorOf } from "@/core/catalog";
import { backupsOf } from "@/server/repositories/backups";
import { readBench } from "@/server/repositories/bench";
import { giveBoard } from "@/server/repositories/boards";
import { importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { addAircraft, aircraftByTag } from "@/server/repositories/fleet";
import { orderJob } from "@/server/repositories/jobs";
import { planOfJob, readJob } from "@/server/web/job-view";
import { DEMO_NEW_BOARDS } from "../../demo/fleet";
import { portBoard, type PortBoard } from "../support/port-board";
import { openRoom, type Room } from "../support/room";
import { imageFile, foundIn } from "../support/workshop";

const BAY = 3;
const RILL = DEMO_NEW_BOARDS.find(({ model }) => model === "pellow-rill");
const CHIP = RILL?.chipId ?? "";
let room: Room;
let board: PortBoard;
let aircraftId = 0;

const lineIs = (state: string) =>
  room.until(async () => (await room.live()).line?.state === state, `the line is ${state}`);
const answers = (say: RegExp) => room.until(async () => say.test((await room.live()).say), `the bay says ${say}`);

beforeAll(async () => {
  room = await openRoom({ name: "serial_port", tag: "QW-50", bay: BAY, firstPort: 70, factor: 50 });
  // the one that it runs as well: without it there would be no way back
  for (const id of ["bobbin-40", "bobbin-41"]) await importImage(imageFile(id, "PRILL"), "lead");
  aircraftId = await addAircraft({ tag: "QW-51", label: "", type: "Teasel" });
  await giveBoard(
    {
      chipId: CHIP,
      modelId: "pellow-rill",
      target: "PRILL",
      releaseId: "bobbin-40",
      tag: "QW-51",
      account: "lead",
      replace: false,
    },
    await loadCatalogue(),
  );
  board = await portBoard("new-2", ["--pace", "15"]);
}, 60_000);

afterAll(async () => {
  await room.close();
  await board.quit();
});

describe("case C82: a bay that is a serial port of the machine", () => {
  it("offers the ports that are there; no other path is ever opened", async () => {
    await room.until(
      async () => (await readBench()).ports.some(({ path }) => path === board.port),
      "the port is listed",
    );
    expect(await room.order({ kind: "use-port", path: "/etc/passwd" })).toBe("port-none");
    expect(await room.order({ kind: "use-port", path: `${board.port}-none` })).toBe("port-none");
    expect((await room.live()).line).toBeUndefined();
    expect(await room.order({ kind: "use-port", path: board.port })).toBe("done");
    expect(await room.order({ kind: "use-port", path: board.port }, undefined, { bayNo: 5 })).toBe("port-taken");
    expect(await room.order({ kind: "plug", button: false, pads: false })).toBe("socket-real");
  });

  it("asks who stands on the line: a console, known by its chip id", async () => {
    await answers(/^Answers, Bobbin 40$/);
    expect(await room.live()).toMatchObject({ presence: "console", tag: "QW-51", chipId: CHIP, port: board.port });
    expect((await room.live()).line).toEqual({ path: board.port, state: "open" });
    expect((await room.live()).usb).toBeUndefined();
  });

  it("backs up over it, byte for byte whole", async () => {
    expect(await room.order({ kind: "back-up" })).toBe("done");
    expect((await backupsOf(aircraftId))[0]).toMatchObject({ verdict: "complete", source: "bay" });
  });

  it("notices the cable coming out and going in, and another board mode on the same line", async () => {
    board.hand("unplug");
    await lineIs("absent");
    expect((await room.live()).presence).toBe("none");
    board.hand("plug pads");
    await room.until(async () => (await room.live()).loaderId !== undefined, "the loader has said who it is");
    const catalogue = await loadCatalogue();
    const loaderId = loaderIdOf(CHIP, processorOf(catalogue, "Nettle 12"));
    expect(await room.live()).toMatchObject({
      loaderId,
      tag: "QW-51",
      say: "Shows only its loader",
      seenAs: "a serial loader",
    });
    board.hand("unplug");
    await lineIs("absent");
    board.hand("plug");
    await answers(/^Answers, Bobbin 40$/);
  });

  it("case C24: says that another program holds the port, and goes on when it lets go", async () => {
    board.hand("unplug");
    await lineIs("absent");
    await room.bench.stop();
    board.hand("plug");
    await room.until(() => Promise.resolve(existsSync(board.port)), "the port is there");
    const holder = new SerialPort({ path: board.port, baudRate: 9600, autoOpen: false });
    await new Promise<void>((resolve, reject) => holder.open((error) => (error ? reject(error) : resolve())));
    room.bench = await startBench();
    await lineIs("held");
    expect(await room.live()).toMatchObject({ mark: "no", say: "Another program holds the port" });
    await new Promise<void>((resolve) => holder.close(() => resolve()));
    await answers(/^Answers, Bobbin 40$/);
  });

  it("a line on which something talks without end holds nobody up, and is let go of at once", async () => {
    const chatter = `${path.dirname(board.port)}/chatter`;
    const talk = "EXEC:\"sh -c 'while :; do echo humming; sleep 0.02; done'\"";
    const noise = spawn("socat", [`PTY,link=${chatter},rawer`, talk], { stdio: "ignore" });
    await room.until(() => Promise.resolve(existsSync(chatter)), "it talks");
    const other = { bayNo: 5 };
    expect(await room.order({ kind: "use-port", path: chatter }, undefined, other)).toBe("done");
    await room.until(async () => (await room.live(5)).line?.state === "silent", "it is given up", 60_000);
    const began = Date.now();
    expect(await room.order({ kind: "use-port", path: null }, undefined, other)).toBe("done");
    expect(Date.now() - began).toBeLessThan(5_000);
    noise.kill();
  }, 90_000);

  it("a whole update runs over it: console, serial loader, restore, and a proof of every item", async () => {
    const jobId = await orderJob({
      bayNo: BAY,
      aircraftId,
      goal: { kind: "update", releaseId: "bobbin-41" },
      account: "technician",
    });
    const at = async (step: string) => {
      const now = await room.standsAt(jobId);
      if (now?.status === "failed") throw new Error(`${now.id}: ${JSON.stringify(now.problem)}`);
      return now?.id === step && now.status === "waiting";
    };
    expect(await room.order({ kind: "begin" }, jobId)).toBe("done");
    await room.until(() => at("plan"), "the plan is there");
    const view = await readJob(jobId);
    const plan = view && (await planOfJob(view));
    if (!plan) throw new Error("there is no plan");
    const choices = Object.fromEntries(openItems(plan, {}).map(({ id, choices: [first] }) => [id, first?.id ?? ""]));
    if (Object.keys(choices).length > 0) expect(await room.order({ kind: "decide", choices }, jobId)).toBe("done");
    await room.take(jobId);
    await room.until(() => at("make-safe"), "hands are asked for");
    // another board comes onto the same port: nothing is sent to it but the question who it is
    await board.quit();
    const other = await portBoard("QW-06", ["--pace", "15", "--port", "new-2"]);
    expect(other.port).toBe(board.port);
    expect(await room.order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("done");
    await room.until(async () => (await room.standsAt(jobId))?.status === "failed", "the job stops");
    expect((await room.standsAt(jobId))?.problem).toMatchObject({ code: "board-other" });
    await other.quit();
    board = await portBoard("new-2", ["--pace", "15"]);
    await room.until(async () => (await room.live()).line?.state === "open", "the board is back");
    // which step met it depends on the moment
    const stopped = (await room.standsAt(jobId))?.id ?? "make-safe";
    expect(await room.order({ kind: "again", step: stopped }, jobId)).toBe("done");
    await room.until(async () => (await room.standsAt(jobId))?.status !== "failed", "the step begins again");
    if (await at("make-safe")) expect(await room.order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("done");
    // case C26: the cable comes out in the middle of the flash; back in its loader, it goes on by itself
    const flashing = async () =>
      (await room.standsAt(jobId))?.id === "flash" && ((await room.live()).job?.doneShare ?? 0) > 0.2;
    await room.until(flashing, "a fifth is written", 60_000);
    board.hand("unplug");
    await room.until(() => at("flash"), "the job asks for the board");
    await room.bench.stop();
    board.hand("plug pads");
    room.bench = await startBench();
    await room.until(
      async () => {
        await at("");
        return (await room.standsAt(jobId))?.id.startsWith("check-") === true;
      },
      "the checks begin",
      150_000,
    );
    const done = await readJob(jobId);
    expect(done?.state.steps.filter(({ status }) => status === "done").map(({ id }) => id)).toEqual(
      expect.arrayContaining(["rescue", "enter-loader", "flash", "first-start", "restore", "prove"]),
    );
    expect(foundIn(done?.state).proved).toMatch(/^All \d+ values took/);
    expect((await aircraftByTag("QW-51"))?.release_id).toBe("bobbin-41");
    expect(await room.order({ kind: "stop", reason: "enough", writing: false }, jobId)).toBe("done");
  }, 200_000);

  it("lets go of the port: the bay is a simulated one again, and another program can have it", async () => {
    await room.until(async () => (await room.live()).job === undefined, "the job has ended");
    expect(await room.order({ kind: "use-port", path: null })).toBe("done");
    expect((await room.live()).say).toBe("Empty");
    const next = new SerialPort({ path: board.port, baudRate: 9600, autoOpen: false });
    await new Promise<void>((resolve, reject) => next.open((error) => (error ? reject(error) : resolve())));
    await new Promise<void>((resolve) => next.close(() => resolve()));
    expect(await room.order({ kind: "bring", boardId: room.simId })).toBe("done");
  });
});
