import { loaderOf, processorOf, sectorsOf, type LoaderTransport, type Processor } from "@/core/catalog";
import { readImageFile } from "@/core/image";
import { askLoader, openLoader, partsOf, runFlash } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { program } from "@/core/sim/flash-memory";
import { catalogue, CHIP, imageFile } from "../support/workshop";

const BOARDS = [
  { transport: "usb", modelId: "corsley-slate", releaseId: "heddle-23", target: "CSLATE-B", hold: { button: true } },
  { transport: "usb", modelId: "tamsin-mote", releaseId: "heddle-23", target: "TMOTE", hold: { pads: true } },
  { transport: "serial", modelId: "pellow-rill", releaseId: "bobbin-41", target: "PRILL", hold: { pads: true } },
  { transport: "drive", modelId: "pellow-weir", releaseId: "heddle-23", target: "PWEIR", hold: { pads: true } },
] as const;

/** µs that a byte takes over the cable one way, with what the protocol puts around it left out. */
function wireUs(transport: LoaderTransport, processor: Processor): number {
  if (transport === "serial") return 10_000_000 / (loaderOf(processor, "serial")?.baud ?? 1);
  // a drive takes and gives blocks of 512 bytes for 256 of data
  return transport === "drive" ? 2 : 1;
}

const seconds = (us: number) => `${(us / 1e6).toFixed(2)} s`;

/** What a flash takes by each kind of loader, against what board and cable can do at all. Board time, not this machine's. */
export async function loadersBench(say: (text?: string) => void): Promise<void> {
  say("## Flash: compare, disarm, write, check by reading back, arm");
  say();
  say("| board | loader | segments | time | physical limit | ratio | once more, all equal | 10 % of them changed |");
  say("| --- | --- | --- | --- | --- | --- | --- | --- |");
  for (const { transport, modelId, releaseId, target, hold } of BOARDS) {
    const model = catalogue().models.get(modelId);
    if (!model) throw new Error("no model");
    const processor = processorOf(catalogue(), model.processor);
    const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
    board.manufacture(new Uint8Array(8).fill(0xff));
    const link = linkTo(board, virtualClock());
    board.plug(0, hold);
    await link.clock.waitUntil(2_000_000);
    const found = link.presence();
    if (found.kind !== "loader" || found.transport !== transport) throw new Error("no such loader");
    await askLoader(link, found, [processor]);
    const loader = openLoader(link, found, processor);
    const parts = valueOf(partsOf(valueOf(readImageFile(imageFile(releaseId, target), processor)), loader.spaces));
    const timed = async () => {
      const start = link.clock.nowUs();
      valueOf(await runFlash(loader, parts));
      return link.clock.nowUs() - start;
    };
    const whole = await timed();
    const again = await timed();
    const some = parts.filter((_, i) => i % 10 === 5 || (parts.length < 10 && i === 1));
    for (const { space } of some) program(board.flash, space.start + 64, Uint8Array.of(0, 0, 0, 0));
    const tenth = await timed();
    const bytes = parts.reduce((sum, part) => sum + part.bytes.length, 0);
    const erase = sectorsOf(processor)
      .filter(({ start }) => parts.some(({ space }) => start >= space.start && start < space.start + space.lengthBytes))
      .reduce((sum, { eraseUs }) => sum + eraseUs, 0);
    const wire = wireUs(transport, processor) * bytes;
    // a drive takes blocks while it writes others: the slower of both counts
    const down =
      transport === "drive"
        ? Math.max(wire, erase + bytes * processor.programUsPerByte)
        : wire + erase + bytes * processor.programUsPerByte;
    const limit = down + wire;
    const share = (us: number) => `${(us / whole).toFixed(3)} ×`;
    say(
      `| ${model.title} | ${transport} | ${parts.length} | ${seconds(whole)} | ${seconds(limit)} | ${(whole / limit).toFixed(3)} × | ${share(again)} | ${share(tenth)} (${some.length}) |`,
    );
  }
  say();
}
