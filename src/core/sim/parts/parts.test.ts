import fc from "fast-check";
import type { LineWay } from "@/core/catalog";
import { Passing } from "@/core/sim/parts/passing";
import type { SimPart } from "@/core/sim/parts/part";
import { putChunk, resumeBoard, SimBoard, snapshotOf, takeDirtyChunks } from "@/core/sim";
import { boardOf } from "../../../../tests/support/parts";
import { catalogue } from "../../../../tests/support/workshop";

const WAY: LineWay = {
  part: "pump",
  opens: "to {no}",
  turns: "to {no}",
  closes: "to none",
  quietMs: 100,
  unfed: false,
};

/** A line to parts that only hear: what reached each of them. */
function lineTo(count: number) {
  const heard = Array.from({ length: count }, () => [] as number[]);
  const parts = heard.map((bytes) => ({
    call: () => undefined,
    letGo: () => undefined,
    arrive: (sent: Uint8Array) => void bytes.push(...sent),
    sentUs: 0,
    nextUs: () => undefined,
    output: () => new Uint8Array(),
  }));
  const host = { partAt: (_: string, no: number) => parts[no - 1] as unknown as SimPart | undefined, fed: () => false };
  return { line: new Passing(WAY, 1, host, 0), heard };
}
const bytesOf = (text: string) => new TextEncoder().encode(text);

describe("a line that a firmware passes on", () => {
  it("gives on every byte as it is, as long as none of its words stands alone after a silence", () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ bytes: fc.uint8Array({ minLength: 1, maxLength: 40 }), gapMs: fc.nat(400) }), {
          maxLength: 12,
        }),
        (sends) => {
          const { line, heard } = lineTo(2);
          let at = 0;
          const sent: number[] = [];
          for (const { bytes, gapMs } of sends) {
            at += gapMs * 1000;
            line.arrive(bytes, at, 1);
            sent.push(...bytes);
            at += bytes.length;
          }
          // what may still become a word is held back until it cannot
          line.arrive(bytesOf("|"), at, 1);
          expect(heard[0]).toEqual([...sent, 0x7c]);
        },
      ),
      { numRuns: 300 },
    );
  });

  it("hears its words after a silence, and at no other time", () => {
    const { line, heard } = lineTo(2);
    expect(line.arrive(bytesOf("to 2\r"), 50_000, 1)).toBeUndefined();
    expect(heard[0]).toEqual([...bytesOf("to 2\r")]);
    expect(line.arrive(bytesOf("to 2\r"), 300_000, 1)).toMatchObject({ closed: false });
    expect(line.no).toBe(2);
    expect(line.arrive(bytesOf("to 9\r"), 600_000, 1)).toMatchObject({ refused: "there is no such part" });
    expect(line.arrive(bytesOf("to none\r"), 900_000, 1)).toMatchObject({ closed: true });
    expect(heard[1]).toEqual([]);
  });
});

describe("the parts behind a simulated board", () => {
  it("are as they were after the machine that plays them was stopped: flash, state, and the line that is open", async () => {
    const { board, link } = await boardOf("QW-01");
    const now = () => link.clock.nowUs();
    await link.console.send(bytesOf("reach controller 3\n"));
    await link.clock.waitUntil(now() + 1_000_000);
    board.takeSerial(now());
    board.setBattery(now(), true);
    await link.clock.waitUntil(now() + 1_000_000);
    expect([board.leadsTo?.no, board.parts.all.map(({ state }) => state)]).toEqual([
      3,
      ["runs", "runs", "loader", "runs"],
    ]);
    const snapshot = JSON.parse(JSON.stringify(snapshotOf(board))) as ReturnType<typeof snapshotOf>;
    const again = new SimBoard({ ...board.spec, parts: snapshot.parts ?? [] }, catalogue());
    for (const { chunk, bytes } of takeDirtyChunks(board)) putChunk(again, chunk, bytes);
    resumeBoard(again, snapshot, now());
    expect([again.leadsTo?.no, again.parts.all.map(({ state }) => state)]).toEqual([
      3,
      ["runs", "runs", "loader", "runs"],
    ]);
    for (const [i, { flash, spec }] of again.parts.all.entries()) {
      expect(spec).toMatchObject(board.parts.all[i]?.spec ?? {});
      expect(Buffer.compare(flash.bytes, board.parts.all[i]?.flash.bytes ?? new Uint8Array())).toBe(0);
    }
  });

  it("an image for another power stage starts nothing", async () => {
    const { board, aircraft } = await boardOf("QW-05");
    const [first, second] = board.parts.all;
    expect(aircraft.tag).toBe("QW-05");
    // the image of its neighbour, which is of another code
    if (first && second) second.flash.bytes.set(first.flash.bytes);
    board.setBattery(10_000_000, true);
    expect([first?.state, second?.state]).toEqual(["runs", "dead"]);
  });
});
