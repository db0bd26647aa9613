import fc from "fast-check";
import { processorOf, type LoaderTransport, type Processor } from "@/core/catalog";
import { loaderSpace, readImageFile } from "@/core/image";
import { askLoader, openLoader, partsOf, runFlash, UNREADABLE, type Loader } from "@/core/loader";
import { ok, ProblemError, valueOf } from "@/core/problem";
import { buildLoaderImage, linkTo, SimBoard, virtualClock, type SimLink } from "@/core/sim";
import { program } from "@/core/sim/flash-memory";
import { catalogue, CHIP, imageFile } from "../../../tests/support/workshop";

const processors = [...catalogue().processors.values()];

interface Bench {
  readonly board: SimBoard;
  readonly link: SimLink;
  readonly processor: Processor;
}

/** A board in one of its loaders: by which hands, on which model. */
const WAYS: readonly {
  transport: LoaderTransport;
  modelId: string;
  target: string;
  release: string;
  pads: boolean;
  adapter: boolean;
}[] = [
  { transport: "usb", modelId: "corsley-slate", target: "CSLATE-B", release: "heddle-23", pads: false, adapter: false },
  { transport: "serial", modelId: "pellow-rill", target: "PRILL", release: "bobbin-40", pads: true, adapter: false },
  { transport: "drive", modelId: "pellow-weir", target: "PWEIR", release: "heddle-23", pads: true, adapter: false },
];

async function inLoader({ modelId, pads, adapter }: (typeof WAYS)[number]): Promise<Bench> {
  const model = catalogue().models.get(modelId);
  if (!model) throw new Error(modelId);
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(new Uint8Array(0));
  board.adapter = adapter;
  const link = linkTo(board, virtualClock());
  board.plug(0, pads ? { pads: true } : { button: true });
  await link.clock.waitUntil(1_000_000);
  return { board, link, processor: processorOf(catalogue(), model.processor) };
}

function seen({ link }: Pick<Bench, "link">) {
  const presence = link.presence();
  if (presence.kind !== "loader") throw new Error(`no loader: ${presence.kind}`);
  return presence;
}

async function opened(bench: Bench) {
  const word = await askLoader(bench.link, seen(bench), processors);
  return { word, loader: openLoader(bench.link, seen(bench), bench.processor) };
}

const partsFor = (way: (typeof WAYS)[number], processor: Processor, spaces: Parameters<typeof partsOf>[1]) =>
  valueOf(partsOf(valueOf(readImageFile(imageFile(way.release, way.target), processor)), spaces));

describe.each(WAYS)("the $way loader", (way) => {
  it("shows itself, says who it is, and offers the settings and every sector of the application", async () => {
    const bench = await inLoader(way);
    expect(seen(bench).transport).toBe(way.transport);
    const { word, loader } = await opened(bench);
    expect(word?.id).toMatch(/^[0-9A-F]{4}(-[0-9A-F]{4})+$/);
    expect(word?.processor ?? bench.processor.id).toBe(bench.processor.id);
    expect(loader.spaces.filter(({ use }) => use === "settings")).toHaveLength(1);
    const application = loader.spaces.filter(({ use }) => use === "application");
    const bytes = application.reduce((sum, { lengthBytes }) => sum + lengthBytes, 0);
    expect(bytes).toBe(bench.board.flash.bytes.length - ((application[0]?.start ?? 0) - bench.board.flash.start));
  });

  it("writes a whole image that starts, finds it equal afterwards, and writes only what differs then", async () => {
    const bench = await inLoader(way);
    const { loader } = await opened(bench);
    const parts = partsFor(way, bench.processor, loader.spaces);
    const first = valueOf(await runFlash(loader, parts));
    expect(first.cells.every((cell) => cell === "checked" || cell === "equal")).toBe(true);
    const second = valueOf(await runFlash(loader, parts));
    expect(second.writtenBytes).toBe(0);
    const last = parts.at(-1);
    if (!last) throw new Error("no parts");
    program(bench.board.flash, last.space.start + 4, Uint8Array.of(0, 0, 0, 0));
    const third = valueOf(await runFlash(loader, parts));
    // the first sector is disarmed and written again with the one that differs
    expect(third.cells.filter((cell) => cell === "checked").length).toBeLessThanOrEqual(2);
    await loader.leave();
    await bench.link.clock.waitUntil(bench.link.clock.nowUs() + 2_000_000);
    expect(bench.board.mode.kind).toBe("console");
    expect(bench.board.halfImageStarts).toBe(0);
  }, 60_000);

  it("case C26: the power cut at any byte or erase never leaves half an image that starts, and the rest is written afterwards", async () => {
    await fc.assert(
      fc.asyncProperty(fc.double({ min: 0, max: 1, noNaN: true }), fc.boolean(), async (share, atErase) => {
        const bench = await inLoader(way);
        const { loader } = await opened(bench);
        const parts = partsFor(way, bench.processor, loader.spaces);
        const bytes = parts.reduce((sum, part) => sum + part.bytes.length, 0);
        if (atErase) bench.board.flash.eraseBudget = Math.floor(share * (parts.length + 2));
        else bench.board.flash.programBudget = Math.floor(share * bytes);
        await runFlash(loader, parts).catch((error: unknown) => {
          if (!(error instanceof ProblemError)) throw error;
        });
        bench.board.flash.eraseBudget = bench.board.flash.programBudget = Infinity;
        bench.board.unplug(bench.link.clock.nowUs());
        // as it comes: whatever is there starts, or nothing does
        bench.board.plug(bench.link.clock.nowUs());
        await bench.link.clock.waitUntil(bench.link.clock.nowUs() + 2_000_000);
        expect(bench.board.halfImageStarts).toBe(0);
        bench.board.unplug(bench.link.clock.nowUs());
        bench.board.plug(bench.link.clock.nowUs(), way.pads ? { pads: true } : { button: true });
        await bench.link.clock.waitUntil(bench.link.clock.nowUs() + 1_000_000);
        const again = await opened(bench);
        valueOf(await runFlash(again.loader, parts));
        await again.loader.leave();
        await bench.link.clock.waitUntil(bench.link.clock.nowUs() + 2_000_000);
        expect([bench.board.mode.kind, bench.board.halfImageStarts]).toEqual(["console", 0]);
      }),
      { numRuns: way.transport === "serial" ? 6 : 12 },
    );
  }, 120_000);

  it("case C25: with every n-th transfer going wrong, n from 1 to 50, it ends within limits, and what it calls written is right", async () => {
    for (let n = 1; n <= 50; n++) {
      const bench = await inLoader(way);
      const { loader } = await opened(bench);
      const parts = partsFor(way, bench.processor, loader.spaces).slice(0, 4);
      bench.board.faults = { ...bench.board.faults, stallEvery: n };
      const result = await runFlash(loader, parts);
      bench.board.faults = { ...bench.board.faults, stallEvery: 0 };
      if (!result.ok) expect(result.problem.message).not.toBe("");
      else
        for (const { space, bytes } of parts) {
          const from = space.start - bench.board.flash.start;
          expect(Buffer.compare(bench.board.flash.bytes.subarray(from, from + bytes.length), bytes)).toBe(0);
        }
      if (n > 30) expect(result.ok).toBe(true);
    }
  }, 120_000);

  it("case C25: cut at every n-th transfer (each one in the soak): never half an image, and the next flash goes on to the whole one", async () => {
    const bench = await inLoader(way);
    const { loader } = await opened(bench);
    const parts = partsFor(way, bench.processor, loader.spaces);
    let transfers = 0;
    const count = () => {
      transfers++;
    };
    valueOf(await runFlash(loader, parts, count));
    expect(transfers).toBeGreaterThan(100);
    const step = process.env.SOAK === undefined ? Math.ceil(transfers / 9) : 1;
    for (let at = 1; at <= transfers; at += step) {
      const trial = await inLoader(way);
      const first = await opened(trial);
      let seen = 0;
      await runFlash(first.loader, parts, () => {
        if (++seen === at) trial.board.failPower(trial.link.clock.nowUs());
      }).catch((error: unknown) => {
        if (!(error instanceof ProblemError)) throw error;
      });
      for (const hold of [{}, way.pads ? { pads: true } : { button: true }]) {
        trial.board.unplug(trial.link.clock.nowUs());
        trial.board.plug(trial.link.clock.nowUs(), hold);
        await trial.link.clock.waitUntil(trial.link.clock.nowUs() + 2_000_000);
      }
      valueOf(await runFlash((await opened(trial)).loader, parts));
      for (const { space, bytes } of parts) {
        const from = space.start - trial.board.flash.start;
        expect([at, Buffer.compare(trial.board.flash.bytes.subarray(from, from + bytes.length), bytes)]).toEqual([
          at,
          0,
        ]);
      }
      expect([at, trial.board.halfImageStarts]).toEqual([at, 0]);
    }
  }, 3_600_000);

  it("case C61: a protected board gives nothing out and says so; the first write lifts that, and all but a loader is gone", async () => {
    const bench = await inLoader(way);
    const { board, link } = bench;
    const { loader } = await opened(bench);
    valueOf(await runFlash(loader, partsFor(way, bench.processor, loader.spaces)));
    const ownLoader = board.flash.bytes.slice(0, bench.processor.loaderSectors.length * 8192);
    board.faults = { ...board.faults, readProtected: true };
    const shut = await opened(bench);
    const region = shut.loader.spaces.find(({ use }) => use === "settings");
    if (!region) throw new Error("no settings region");
    const read = await shut.loader.read(region);
    expect(shut.loader.can.read ? !read.ok && read.problem.code : UNREADABLE).toBe(UNREADABLE);
    // a flash is refused before it has written anything: nothing of it could be proved
    const before = board.flash.bytes.slice();
    expect((await runFlash(shut.loader, partsFor(way, bench.processor, shut.loader.spaces))).ok).toBe(false);
    expect(Buffer.compare(board.flash.bytes, before)).toBe(0);
    await shut.loader.write(region, new Uint8Array(64).fill(0xff)).catch(() => undefined);
    await link.clock.waitUntil(link.clock.nowUs() + 20_000_000);
    expect(board.faults.readProtected).toBe(false);
    const rest = board.flash.bytes.subarray(ownLoader.length);
    expect(rest.every((byte) => byte === 0xff)).toBe(true);
    expect(Buffer.compare(board.flash.bytes.subarray(0, ownLoader.length), ownLoader)).toBe(0);
    expect(board.halfImageStarts).toBe(0);
  });

  it("a cable that comes out in mid-work is a problem by name, never a hang", async () => {
    const bench = await inLoader(way);
    const { loader } = await opened(bench);
    const parts = partsFor(way, bench.processor, loader.spaces);
    let reports = 0;
    const running = runFlash(loader, parts, () => {
      if (++reports === 9) bench.board.unplug(bench.link.clock.nowUs());
    });
    await expect(running).rejects.toThrow("The board has gone from its cable");
  });
});

describe("the serial loader", () => {
  it("its speed is found by itself; another speed, or no loader, answers nothing", async () => {
    const slow = await inLoader({
      transport: "serial",
      modelId: "corsley-slate",
      target: "",
      release: "",
      pads: true,
      adapter: true,
    });
    // Nettle 20 speaks at another speed than the processors before it in the catalogue
    const word = await askLoader(slow.link, seen(slow), processors);
    expect(word?.processor).toBe("Nettle 20");
    const others = processors.filter(({ id }) => id !== "Nettle 20");
    expect(await askLoader(slow.link, seen(slow), others)).toBeUndefined();
  });

  it("case C45: a board whose USB loader is erased shows nothing by its button, and its serial loader over the adapter", async () => {
    const bench = await inLoader({
      transport: "serial",
      modelId: "corsley-slate",
      target: "",
      release: "",
      pads: true,
      adapter: true,
    });
    const { flash } = bench.board;
    flash.bytes.fill(0xff, 0, 4 * 8192);
    const tried = async (hold: { button?: boolean; pads?: boolean }, adapter: boolean) => {
      bench.board.unplug(bench.link.clock.nowUs());
      bench.board.adapter = adapter;
      bench.board.plug(bench.link.clock.nowUs(), hold);
      await bench.link.clock.waitUntil(bench.link.clock.nowUs() + 2_000_000);
      return bench.link.presence();
    };
    expect(await tried({ button: true }, false)).toEqual({ kind: "none" });
    expect(await tried({ pads: true }, false)).toEqual({ kind: "none" });
    expect(await tried({ pads: true }, true)).toMatchObject({ kind: "loader", transport: "serial" });
    const { loader } = await opened(bench);
    const way = {
      transport: "serial",
      modelId: "corsley-slate",
      target: "CSLATE-B",
      release: "heddle-23",
      pads: true,
      adapter: true,
    } as const;
    valueOf(await runFlash(loader, partsFor(way, bench.processor, loader.spaces)));
    await loader.leave();
    expect((await tried({}, true)).kind).toBe("console");
    // it writes the other loader's place as well: that is how one comes back
    expect(await tried({ pads: true }, true)).toMatchObject({ transport: "serial" });
    const again = await opened(bench);
    const part = catalogue().parts.get("batten-3");
    const space = loaderSpace(bench.processor);
    if (!part || !space) throw new Error("there is no loader to write");
    const file = buildLoaderImage(part, bench.processor);
    const image = valueOf(readImageFile(file, bench.processor, { space }));
    valueOf(await runFlash(again.loader, valueOf(partsOf(image, again.loader.spaces))));
    expect(await tried({ button: true }, false)).toMatchObject({ kind: "loader", transport: "usb", version: 3 });
  }, 60_000);
});

describe("a loader from outside", () => {
  /** Flash on a punched tape, behind a reader of its own: nothing here knows of it. */
  interface Tape {
    readonly cells: Map<number, Uint8Array>;
    started: boolean;
  }
  const openTape = (tape: Tape, processor: Processor): Loader => ({
    spaces: [0, 1].map((no) => ({
      no,
      start: processor.flashStart + no * 4096,
      lengthBytes: 4096,
      use: "application",
    })),
    can: { read: true },
    blockBytes: 64,
    read: ({ no, lengthBytes }) => Promise.resolve(ok(tape.cells.get(no) ?? new Uint8Array(lengthBytes).fill(0xff))),
    compare: ({ no }, expected) => {
      const held = tape.cells.get(no) ?? new Uint8Array(expected.length).fill(0xff);
      return Promise.resolve(ok({ equal: Buffer.compare(held, expected) === 0, head: held.subarray(0, 64) }));
    },
    write: ({ no, lengthBytes }, bytes) => {
      const cell = new Uint8Array(lengthBytes).fill(0xff);
      cell.set(bytes);
      tape.cells.set(no, cell);
      return Promise.resolve(ok(undefined));
    },
    leave: () => Promise.resolve(void (tape.started = true)),
  });

  it("is flashed in the same order, without a change here: disarmed first, armed last", async () => {
    const [processor] = processors;
    if (!processor) throw new Error("there is no processor");
    const tape: Tape = { cells: new Map([[0, new Uint8Array(4096).fill(7)]]), started: false };
    const loader = openTape(tape, processor);
    const parts = loader.spaces.map((space, i) => ({
      space,
      bytes: new Uint8Array(4096).fill(0x20 + i),
      boot: i === 0,
    }));
    const order: string[] = [];
    const state = valueOf(await runFlash(loader, parts, (report) => void order.push(report.state.phase)));
    await loader.leave();
    expect(state.cells).toEqual(["checked", "checked"]);
    expect(order.indexOf("disarm")).toBeLessThan(order.indexOf("write"));
    expect([tape.cells.get(0)?.[9], tape.cells.get(1)?.[9], tape.started]).toEqual([0x20, 0x21, true]);
  });
});
