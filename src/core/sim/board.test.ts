import fc from "fast-check";
import { PLAIN_LAYOUT, processorOf, settingsSegment } from "@/core/catalog";
import { ask, askCommand, keepSettings } from "@/core/console";
import { applicationSpace, encodeRecords, encodeRegion } from "@/core/image";
import { readIdentityFacts } from "@/core/checks";
import { valueOf } from "@/core/problem";
import { linkTo, resumeBoard, SimBoard, snapshotOf, takeDirtyChunks, virtualClock, CHUNK_BYTES } from "@/core/sim";
import { blankFlash, eraseRange, placeBytes, program, readRange } from "@/core/sim/flash-memory";
import { catalogue, CHIP, imageFile, makeBoard, statementIdiom } from "../../../tests/support/workshop";

const idiom = statementIdiom();
const nettle20 = processorOf(catalogue(), "Nettle 20");

function newBoard(modelId = "corsley-slate", image: Uint8Array = imageFile("heddle-22", "CSLATE-B")) {
  const model = catalogue().models.get(modelId);
  if (!model) throw new Error(`no model ${modelId}`);
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(image);
  return { board, link: linkTo(board, virtualClock()) };
}

async function settle(link: ReturnType<typeof newBoard>["link"]) {
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  return link.presence();
}

async function kept(link: ReturnType<typeof newBoard>["link"]): Promise<string | undefined> {
  valueOf(await ask(link.console, "hush", idiom, 2000));
  return readIdentityFacts(valueOf(await askCommand(link.console, idiom, "declare")).output.join("\n"), idiom).kept;
}

describe("flash memory", () => {
  it("programming only clears bits, an erase sets its sectors and no others", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 64 }),
        fc.uint8Array({ minLength: 1, maxLength: 64 }),
        (first, second) => {
          const flash = blankFlash(nettle20);
          const at = nettle20.flashStart + 8192;
          program(flash, at, first);
          program(flash, at, second);
          const length = Math.max(first.length, second.length);
          const expected = Array.from({ length }, (_, i) => (first[i] ?? 0xff) & (second[i] ?? 0xff));
          expect([...readRange(flash, at, length)]).toEqual(expected);
          placeBytes(flash, nettle20.flashStart, Uint8Array.of(1, 2, 3));
          eraseRange(flash, at, 8192);
          expect(readRange(flash, at, 8192).every((byte) => byte === 0xff)).toBe(true);
          expect([...readRange(flash, nettle20.flashStart, 3)]).toEqual([1, 2, 3]);
        },
      ),
      { numRuns: 20 },
    );
  });

  it("a budget that runs out cuts inside the bytes, and inside the erase", () => {
    const flash = blankFlash(nettle20);
    flash.programBudget = 5;
    expect(program(flash, nettle20.flashStart, new Uint8Array(10)).cut).toBe(true);
    expect([...readRange(flash, nettle20.flashStart, 7)]).toEqual([0, 0, 0, 0, 0, 0xff, 0xff]);
    placeBytes(flash, nettle20.flashStart, new Uint8Array(8192));
    flash.eraseBudget = 0;
    expect(eraseRange(flash, nettle20.flashStart, 8192).cut).toBe(true);
    expect(readRange(flash, nettle20.flashStart, 8192).indexOf(0)).toBe(4096);
  });

  it("tells which chunks changed, once", () => {
    const { board } = newBoard();
    takeDirtyChunks(board);
    placeBytes(board.flash, board.flash.start + CHUNK_BYTES - 1, Uint8Array.of(1, 2));
    expect(takeDirtyChunks(board).map((c) => c.chunk)).toEqual([0, 1]);
    expect(takeDirtyChunks(board)).toEqual([]);
  });
});

describe("what starts is decided by the bytes in flash and by the hands", () => {
  it("an image that is whole speaks as its release", async () => {
    const { board, link } = newBoard();
    board.plug(0);
    expect((await settle(link)).kind).toBe("console");
    expect(await kept(link)).toBe("none, defaults taken");
  });

  it("the boot button leads into the loader, bridged pads into the one in ROM", async () => {
    const withButton = newBoard();
    withButton.board.plug(0, { button: true });
    expect((await settle(withButton.link)).kind).toBe("loader");
    const withPads = newBoard();
    withPads.board.plug(0, { pads: true });
    expect((await settle(withPads.link)).kind).toBe("none");
    expect(withPads.board.mode.kind).toBe("loader");
    // Nettle 26 has its USB loader in ROM, and this model no button
    const mote = newBoard("tamsin-mote", imageFile("heddle-22", "TMOTE"));
    mote.board.plug(0, { button: true });
    expect((await settle(mote.link)).kind).toBe("console");
    mote.board.unplug(mote.link.clock.nowUs());
    mote.board.plug(mote.link.clock.nowUs(), { pads: true });
    expect((await settle(mote.link)).kind).toBe("loader");
  });

  it("without its first words or its identity an image is not started: the loader stays", async () => {
    const start = applicationSpace(nettle20).start;
    for (const [at, length] of [
      [start, 8],
      [start + nettle20.identityOffset, 64],
      [start + nettle20.identityOffset + 60, 4],
    ] as const) {
      const { board, link } = newBoard();
      placeBytes(board.flash, at, new Uint8Array(length).fill(0xff));
      board.plug(0);
      expect((await settle(link)).kind).toBe("loader");
      expect(board.halfImageStarts).toBe(0);
    }
  });

  it("a head without its body is started, and counted: that is what a flash must never leave behind", async () => {
    const { board, link } = newBoard();
    placeBytes(board.flash, applicationSpace(nettle20).start + 200_000, new Uint8Array(4));
    board.plug(0);
    expect((await settle(link)).kind).toBe("none");
    expect(board.halfImageStarts).toBe(1);
  });

  it("case C45: with image and loader erased nothing shows on USB; pads still reach the serial loader", async () => {
    const { board, link } = newBoard();
    board.flash.bytes.fill(0xff);
    board.plug(0);
    expect((await settle(link)).kind).toBe("none");
    expect(board.mode).toMatchObject({ kind: "dead" });
    board.unplug(link.clock.nowUs());
    board.plug(link.clock.nowUs(), { pads: true });
    expect(board.mode.kind).toBe("loader");
  });

  it("case C24: a cable that only charges shows nothing, though the board runs", async () => {
    const { board, link } = newBoard();
    board.faults = { ...board.faults, chargeOnlyCable: true };
    board.plug(0);
    expect((await settle(link)).kind).toBe("none");
    expect(board.mode.kind).toBe("console");
  });

  it("each appearance takes another port; the battery keeps a board alive without its cable", async () => {
    const { board, link } = newBoard();
    board.plug(0);
    const first = await settle(link);
    board.setBattery(link.clock.nowUs(), true);
    board.unplug(link.clock.nowUs());
    expect((await settle(link)).kind).toBe("none");
    expect(board.mode.kind).toBe("console");
    board.plug(link.clock.nowUs());
    const second = await settle(link);
    expect(first.kind === "console" && second.kind === "console" && first.port !== second.port).toBe(true);
  });
});

describe("settings", () => {
  it("are gone after a power cycle unless they were kept", async () => {
    const { board, link } = newBoard();
    for (const keep of [false, true]) {
      board.plug(link.clock.nowUs());
      await settle(link);
      valueOf(await ask(link.console, "put loop.rate 7", idiom, 2000));
      if (keep) valueOf(await keepSettings(link.console, idiom));
      board.unplug(link.clock.nowUs());
      board.plug(link.clock.nowUs());
      await settle(link);
      expect(board.mode.kind === "console" && board.mode.app.values.get("system/loop.rate")).toBe(keep ? 7 : 4);
      board.unplug(link.clock.nowUs());
    }
  });

  it("case C62: a region of another release's format is recognised, never read as values", async () => {
    const { board, link } = await makeBoard(["put loop.rate 7"]);
    placeBytes(board.flash, applicationSpace(nettle20).start, imageFile("heddle-23", "CSLATE-B"));
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    valueOf(await ask(link.console, "hush", idiom, 2000));
    const told = readIdentityFacts(valueOf(await askCommand(link.console, idiom, "declare")).output.join("\n"), idiom);
    expect([told.release, told.kept]).toEqual(["23", "of another release, defaults taken"]);
    expect(board.mode.kind === "console" && board.mode.app.values.get("system/loop.rate")).toBe(4);
  });

  it("a damaged region, or one with records of nowhere, does no harm", async () => {
    const { board, link } = newBoard();
    const region = settingsSegment(nettle20).start;
    placeBytes(board.flash, region, new Uint8Array(64).fill(3));
    board.plug(0);
    await settle(link);
    expect(await kept(link)).toBe("damaged, defaults taken");
    board.unplug(link.clock.nowUs());
    const odd = encodeRecords(
      [
        { ordinal: 9999, profile: 0, text: "1" },
        { ordinal: 0x8055, profile: 0, text: "x" },
        { ordinal: 0, profile: 77, text: "no such profile" },
      ],
      PLAIN_LAYOUT,
    );
    placeBytes(board.flash, region, encodeRegion("heddle-region-22", odd, PLAIN_LAYOUT));
    board.plug(link.clock.nowUs());
    await settle(link);
    expect(await kept(link)).toBe("kept");
  });

  it("the starter set of an airframe sets its values; an unknown one is refused", async () => {
    const { board, link } = newBoard();
    board.plug(0);
    await settle(link);
    expect(valueOf(await ask(link.console, "starter sedge-7", idiom, 2000)).answer).toBe("accepted");
    expect(board.mode.kind === "console" && board.mode.app.values.get("tune 1/roll.push")).toBe(52);
    expect(valueOf(await ask(link.console, "starter nobody", idiom, 2000)).cause).toBe("unknown-name");
  });

  it("a table takes no more rows than it has room for", async () => {
    const { board, link } = newBoard();
    board.plug(0);
    await settle(link);
    let last = "accepted";
    for (let pad = 1; pad <= 13; pad++)
      last = valueOf(await ask(link.console, `row outputs X${pad} drives=servo`, idiom, 2000)).cause ?? "accepted";
    expect(last).toBe("full");
  });
});

describe("senses", () => {
  const measure = async (link: ReturnType<typeof newBoard>["link"]) =>
    valueOf(await askCommand(link.console, idiom, "sense")).output.join("\n");

  it("feel true only when the setting undoes how the board stands in the airframe", async () => {
    const { board, link } = newBoard();
    board.senses.mountQuarters = 1;
    Object.assign(board.senses, { pitch: 30, roll: 0 });
    board.plug(0);
    await settle(link);
    valueOf(await ask(link.console, "hush", idiom, 2000));
    expect(await measure(link)).not.toContain(";; pitch: 30.0");
    valueOf(await ask(link.console, "put board.turned 90", idiom, 2000));
    expect(await measure(link)).toContain(";; pitch: 30.0");
  });

  it("sticks are heard only through a receiver with power on a port that serves it", async () => {
    const { board, link } = newBoard("tamsin-mote", imageFile("heddle-22", "TMOTE"));
    board.plug(0);
    await settle(link);
    expect(await measure(link)).toContain(";; receiver: unpowered");
    board.setBattery(link.clock.nowUs(), true);
    expect(await measure(link)).toContain(";; receiver: heard");
    valueOf(await ask(link.console, "row ports 2 use=telemetry", idiom, 2000));
    expect(await measure(link)).toContain(";; receiver: silent");
    expect(await measure(link)).not.toContain("stick.roll");
  });
});

describe("a snapshot", () => {
  it("brings a board back with its memory, its loader and its hands", async () => {
    const { board, link } = await makeBoard();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    valueOf(await ask(link.console, "put loop.rate 6", idiom, 2000));
    valueOf(await ask(link.console, "use tune 4", idiom, 2000));
    const snapshot = JSON.parse(JSON.stringify(snapshotOf(board))) as ReturnType<typeof snapshotOf>;
    const copy = new SimBoard(board.spec, catalogue());
    copy.flash.bytes.set(board.flash.bytes);
    resumeBoard(copy, snapshot, 0);
    expect({ ...snapshotOf(copy), loader: undefined }).toEqual({ ...snapshotOf(board), loader: undefined });
    expect(copy.loaderMemory.version).toBe(board.loaderMemory.version);
    const loader = newBoard().board;
    loader.plug(0, { button: true });
    const again = newBoard().board;
    resumeBoard(again, snapshotOf(loader), 0);
    expect(again.mode.kind).toBe("loader");
  });
});
