import fc from "fast-check";
import { loaderOf } from "@/core/catalog";
import { packet } from "@/core/loader/serial/xmodem";
import { blankFlash, program } from "@/core/sim/flash-memory";
import { SerialLoaderDevice } from "@/core/sim/loaders/serial";
import { catalogue } from "../../../../tests/support/workshop";

const [EOT, ACK, NAK, CAN, WISH] = [0x04, 0x06, 0x15, 0x18, 0x43];

function device() {
  for (const processor of catalogue().processors.values()) {
    const loader = loaderOf(processor, "serial");
    if (!loader) continue;
    const flash = blankFlash(processor);
    const made = new SerialLoaderDevice(loader, {
      processor,
      flash,
      loaderId: "test",
      protected: () => false,
      lift: () => undefined,
      stallEvery: () => 0,
      failPower: () => undefined,
      start: () => undefined,
    });
    let now = 0;
    /** Sends, waits long enough for anything but patience to run out, and gives what came back. */
    const say = (bytes: Iterable<number>): number[] => {
      made.arrive(Uint8Array.from(bytes), now);
      now = made.sentUs + 2_000_000;
      return [...made.output(now)];
    };
    const word = (text: string) =>
      new TextDecoder().decode(Uint8Array.from(say(new TextEncoder().encode(`${text}\r`))));
    return { say, word, letters: loader.letters, done: `${loader.done}\n`, flash };
  }
  throw new Error("no processor has a serial loader");
}

const block = (no: number, fill: number) => packet(no, new Uint8Array(128).fill(fill), 128, "crc");

describe("the serial loader as a device", () => {
  it("two CAN end a transfer and are both of it: the letter after them is heard", () => {
    const { say, word, letters, done } = device();
    for (const letter of [letters.write, letters.read]) {
      expect(word(`${letter} 0 256`).startsWith(done)).toBe(true);
      expect(say([CAN, CAN])).toEqual([]);
      expect(word(letters.identity)).not.toContain("no such letter");
    }
    // one alone may be noise: the transfer goes on
    word(`${letters.write} 0 256`);
    expect(say([CAN])).toEqual([]);
    expect(say(block(1, 7))).toEqual([ACK]);
  });

  it("takes exactly what was announced: an end before it, and blocks beyond it, are refused", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1000 }), fc.integer({ min: 0, max: 10 }), (length, sent) => {
        const { say, word, letters, done, flash } = device();
        expect(word(`${letters.write} 0 ${length}`)).toBe(`${done}${String.fromCharCode(WISH)}`);
        const wanted = Math.ceil(length / 128);
        for (let no = 1; no <= sent; no++) {
          expect(say(block(no, no))).toEqual(no <= wanted ? [ACK] : [CAN, CAN]);
          if (no > wanted) break;
        }
        if (sent <= wanted) expect(say([EOT])).toEqual(sent === wanted ? [ACK] : [CAN, CAN]);
        expect(flash.bytes[length]).toBe(0xff);
        // whatever came, the menu listens again
        expect(word(letters.identity)).not.toContain("no such letter");
      }),
      { numRuns: 40 },
    );
  });

  it("a damaged block is asked for again and leaves nothing", () => {
    const { say, word, letters, flash } = device();
    word(`${letters.write} 0 128`);
    const hurt = block(1, 0x33).slice();
    hurt[20] = 0;
    expect(say(hurt)).toEqual([NAK]);
    expect(flash.bytes.subarray(0, 128).every((byte) => byte === 0xff)).toBe(true);
    expect(say(block(1, 0x33))).toEqual([ACK]);
    program(flash, flash.start, Uint8Array.of(0x33));
    expect(flash.bytes.subarray(0, 128).every((byte) => byte === 0x33)).toBe(true);
  });
});
