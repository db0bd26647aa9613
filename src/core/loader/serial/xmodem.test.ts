import fc from "fast-check";
import { received, startXmodemReceive, stepXmodemReceive } from "@/core/loader/serial/receive";
import { startXmodemSend, stepXmodemSend } from "@/core/loader/serial/send";
import { ACK, CAN, crc16, EOT, NAK, openPacket, packet, SOH, STX } from "@/core/loader/serial/xmodem";

const bytes = (...all: number[]) => ({ kind: "bytes" as const, bytes: Uint8Array.from(all) });
const quiet = { kind: "quiet" as const };
const C = 0x43;

/** A line between both machines that loses, damages and doubles what goes over it, as drawn. */
function overLine(data: Uint8Array, faults: readonly ("lose" | "damage" | "none")[]) {
  let at = 0;
  const carry = (sent: Uint8Array | undefined): Uint8Array | undefined => {
    if (!sent) return undefined;
    const fault = faults[at++] ?? "none";
    if (fault === "lose") return undefined;
    if (fault === "none") return sent;
    const damaged = sent.slice();
    const place = Math.floor(damaged.length / 2);
    damaged[place] = (damaged[place] ?? 0) ^ 0x40;
    return damaged;
  };
  let sender = startXmodemSend(data);
  let receiver = startXmodemReceive(data.length);
  let toSender = carry(receiver.send);
  let toReceiver: Uint8Array | undefined;
  for (let turn = 0; turn < 4000; turn++) {
    const ended = (phase: string) => phase === "done" || phase === "failed";
    if (ended(sender.state.phase) && ended(receiver.state.phase)) break;
    sender = stepXmodemSend(sender.state, toSender ? { kind: "bytes", bytes: toSender } : quiet);
    toReceiver = carry(sender.send);
    receiver = stepXmodemReceive(receiver.state, toReceiver ? { kind: "bytes", bytes: toReceiver } : quiet);
    toSender = carry(receiver.send);
  }
  return { sender: sender.state, receiver: receiver.state };
}

describe("XMODEM-1K with CRC", () => {
  it("checks by the published test word", () => {
    // CRC-16/XMODEM of “123456789”
    expect(crc16(new TextEncoder().encode("123456789"))).toBe(0x31c3);
    const block = packet(1, Uint8Array.of(1, 2, 3), 128, "crc");
    expect([block.length, block[0], block[1], block[2], block[3 + 3]]).toEqual([133, SOH, 1, 254, 0x1a]);
    expect(openPacket(block, "crc")?.data.slice(0, 4)).toEqual(Uint8Array.of(1, 2, 3, 0x1a));
    expect(packet(256, Uint8Array.of(1), 1024, "crc").slice(0, 3)).toEqual(Uint8Array.of(STX, 0, 255));
    block[40] = 7;
    expect(openPacket(block, "crc")).toBeUndefined();
    expect(openPacket(packet(2, Uint8Array.of(9), 128, "sum"), "sum")?.no).toBe(2);
  });

  it("carries any bytes over a line without faults, in long blocks and a short last one", () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 5000 }), (data) => {
        const { sender, receiver } = overLine(data, []);
        expect([sender.phase, receiver.phase]).toEqual(["done", "done"]);
        expect(received(receiver)).toEqual(data);
      }),
    );
    const { sender } = overLine(new Uint8Array(2048 + 100), []);
    expect(sender.no).toBe(4);
  });

  it("over any line that loses and damages, both end; a sender that is done has brought every byte", () => {
    const fault = fc.constantFrom("lose" as const, "damage" as const, "none" as const, "none" as const);
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 4000 }),
        fc.array(fault, { maxLength: 60 }),
        (data, faults) => {
          const { sender, receiver } = overLine(data, faults);
          expect(["done", "failed"]).toContain(sender.phase);
          expect(["done", "failed"]).toContain(receiver.phase);
          if (sender.phase === "done") expect(receiver.doneBytes).toBeGreaterThanOrEqual(data.length);
          if (receiver.phase === "done") expect(received(receiver)).toEqual(data);
        },
      ),
      { numRuns: 500 },
    );
  });

  it("falls back to short blocks for a receiver that takes no long ones, and to sums for one that knows no CRC", () => {
    let step = stepXmodemSend(startXmodemSend(new Uint8Array(3000)).state, bytes(C));
    expect(step.send?.[0]).toBe(STX);
    for (let i = 0; i < 3; i++) step = stepXmodemSend(step.state, bytes(NAK));
    expect([step.send?.[0], step.send?.length]).toEqual([SOH, 133]);
    step = stepXmodemSend(step.state, bytes(ACK));
    expect([step.send?.[0], step.send?.[1], step.state.doneBytes]).toEqual([SOH, 2, 128]);
    const sums = stepXmodemSend(startXmodemSend(new Uint8Array(3000)).state, bytes(NAK));
    expect(sums.send?.length).toBe(132);
    // a wish that crossed the first block is no refusal
    const crossed = stepXmodemSend(
      stepXmodemSend(startXmodemSend(new Uint8Array(300)).state, bytes(C)).state,
      bytes(C),
    );
    expect(crossed.send).toBeUndefined();
  });

  it("a receiver asks for CRC first and for sums when nobody answers; repeated blocks count once", () => {
    let step = startXmodemReceive(200);
    for (let i = 0; i < 3; i++) step = stepXmodemReceive(step.state, quiet);
    expect([step.send?.[0], step.state.check]).toEqual([NAK, "sum"]);
    step = stepXmodemReceive(
      startXmodemReceive(200).state,
      bytes(0x7f, ...packet(1, new Uint8Array(128).fill(5), 128, "crc")),
    );
    step = stepXmodemReceive(step.state, bytes(...packet(1, new Uint8Array(128).fill(5), 128, "crc")));
    expect([step.send?.[0], step.state.doneBytes]).toEqual([ACK, 128]);
    // the rest comes in two pieces
    const rest = packet(2, new Uint8Array(72).fill(6), 128, "crc");
    step = stepXmodemReceive(step.state, { kind: "bytes", bytes: rest.slice(0, 50) });
    expect(step.send).toBeUndefined();
    step = stepXmodemReceive(step.state, { kind: "bytes", bytes: rest.slice(50) });
    step = stepXmodemReceive(step.state, bytes(EOT));
    expect(step.state.phase).toBe("done");
    expect(received(step.state)).toEqual(
      Uint8Array.from([...Array<number>(128).fill(5), ...Array<number>(72).fill(6)]),
    );
  });

  it("ends by name: cancelled, out of step, too short, too long, never answered", () => {
    const failed = (step: { state: { phase: string; problem?: { detail?: string } } }) =>
      step.state.phase === "failed" ? step.state.problem?.detail : undefined;
    const sent = stepXmodemSend(startXmodemSend(new Uint8Array(300)).state, bytes(C));
    expect(failed(stepXmodemSend(sent.state, bytes(CAN)))).toBeUndefined();
    expect(failed(stepXmodemSend(sent.state, bytes(CAN, CAN)))).toBe("The board ended it after 0 bytes");
    let silence = startXmodemSend(new Uint8Array(300));
    for (let i = 0; i < 10; i++) silence = stepXmodemSend(silence.state, quiet);
    expect(failed(silence)).toBe("10 times nothing was heard, after 0 bytes");
    const receiving = startXmodemReceive(200).state;
    const block = (no: number) => bytes(...packet(no, new Uint8Array(128), 128, "crc"));
    expect(failed(stepXmodemReceive(receiving, block(3)))).toBe("Block 3 came instead of block 1");
    const one = stepXmodemReceive(receiving, block(1)).state;
    expect(failed(stepXmodemReceive(one, bytes(EOT)))).toBe("It ended after 128 of 200 bytes");
    const two = stepXmodemReceive(one, block(2)).state;
    expect(failed(stepXmodemReceive(two, block(3)))).toBe("More came than the 200 bytes asked for");
    expect(failed(stepXmodemReceive(one, bytes(CAN, CAN)))).toBe("The board ended it after 128 bytes");
    let noise = startXmodemReceive(200);
    for (let i = 0; i < 10; i++) noise = stepXmodemReceive(noise.state, quiet);
    expect(failed(noise)).toBe("10 times nothing was heard, after 0 bytes");
  });
});
