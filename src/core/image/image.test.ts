import fc from "fast-check";
import { PLAIN_LAYOUT, processorOf } from "@/core/catalog";
import { checkImage, imageFrom, readImageFile, recogniseImage } from "@/core/image/check";
import type { Chunk } from "@/core/image/chunk";
import { readHex, writeHex } from "@/core/image/formats/intel-hex";
import { applicationSpace, readIdentity } from "@/core/image/identity";
import { decodeRegion, encodeRegion, decodeRecords, encodeRecords } from "@/core/image/region";
import { catalogue, imageFile } from "../../../tests/support/workshop";

const PLAIN = [PLAIN_LAYOUT];
const codeOf = (result: { ok: boolean; problem?: { code: string } }) => (result.ok ? "ok" : result.problem?.code);
const nettle20 = processorOf(catalogue(), "Nettle 20");
const nettle26 = processorOf(catalogue(), "Nettle 26");

const chunks: fc.Arbitrary<Chunk[]> = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 200 }), fc.uint8Array({ minLength: 1, maxLength: 300 })), {
    minLength: 1,
    maxLength: 6,
  })
  .map((parts) => {
    let at = 0x08000000;
    return parts.map(([gap, bytes]) => {
      const start = at + gap * 977;
      at = start + bytes.length;
      return { start, bytes };
    });
  });

describe("Intel HEX", () => {
  it("what is written is read again, wherever it lies", () => {
    fc.assert(
      fc.property(chunks, (written) => {
        const back = readHex(writeHex(written));
        expect(back.ok && back.value.map((c) => [c.start, [...c.bytes]])).toEqual(
          written.map((c) => [c.start, [...c.bytes]]),
        );
      }),
    );
  });

  it("one changed digit in a record is always found", () => {
    const text = writeHex([{ start: 0x08000000, bytes: Uint8Array.from({ length: 64 }, (_, i) => i) }]);
    const places = Array.from(text.matchAll(/[0-9A-F]/g), (match) => match.index);
    fc.assert(
      fc.property(fc.constantFrom(...places), (at) => {
        const other = text.charAt(at) === "0" ? "1" : "0";
        expect(readHex(text.slice(0, at) + other + text.slice(at + 1)).ok).toBe(false);
      }),
    );
  });

  it("a linear record goes on past the end of its 64 KB, as the specification says", () => {
    const read = readHex(":020000040800F2\n:04FFFE0001020304F5\n:00000001FF\n");
    expect(read.ok && read.value).toEqual([{ start: 0x0800fffe, bytes: Uint8Array.of(1, 2, 3, 4) }]);
  });

  it("case C54: overlapping, wrapping, cut, late and unknown records are refused with their line", () => {
    const refused = (text: string) => {
      const result = readHex(text);
      return result.ok ? undefined : [result.problem.code, result.problem.where?.line];
    };
    expect(refused(":0100000041BE\n:0100000042BD\n:00000001FF\n")).toEqual(["hex-overlap", 2]);
    expect(refused(":04FFFE0001020304F5\n:00000001FF\n")).toEqual(["hex-wrap", 1]);
    expect(refused(":020000021000EC\n:04FFFE0001020304F5\n:00000001FF\n")).toEqual(["hex-wrap", 2]);
    expect(refused(":02000004FFFFFC\n:04FFFE0001020304F5\n:00000001FF\n")).toEqual(["hex-wrap", 2]);
    expect(refused(":0100000041BE\n")).toEqual(["hex-no-end", 2]);
    expect(refused(":00000001FF\n:0100000041BE\n")).toEqual(["hex-after-end", 2]);
    expect(refused(":0100000041BF\n")).toEqual(["hex-checksum", 1]);
    expect(refused(":01000007BE3A\n:00000001FF\n")).toEqual(["hex-type", 1]);
    expect(refused(":0200000041BD\n")).toEqual(["hex-length", 1]);
    expect(refused(":01000000ZZBE\n")).toEqual(["hex-digit", 1]);
    expect(refused("S00600004844521B")).toEqual(["hex-mark", 1]);
  });

  it("refusals say what was found", () => {
    const told = (text: string) => {
      const result = readHex(text);
      return result.ok ? undefined : [result.problem.code, result.problem.where, result.problem.detail];
    };
    expect(told("S00600004844521B")).toEqual(["hex-mark", { line: 1 }, "It begins with “S00600004844”"]);
    expect(told(":00000001F")).toEqual(["hex-length", { line: 1 }, "10 characters"]);
    expect(told(":00000001FF0")).toEqual(["hex-length", { line: 1 }, "12 characters"]);
    expect(told(":0200000041BD")).toEqual(["hex-length", { line: 1 }, "It counts 2 data bytes, 1 are there"]);
    expect(told(":01000000ZZBE")).toEqual(["hex-digit", { line: 1, column: 10 }, undefined]);
    expect(told(":0100000041BF")).toEqual(["hex-checksum", { line: 1 }, "The bytes add up to 0x01, not 0"]);
    expect(told("\n:0100000041BE\n:0100000042BD\n:00000001FF\n")).toEqual([
      "hex-overlap",
      { line: 3 },
      "Address 0x0 is also written in line 2",
    ]);
    expect(told(":01000007BE3A")).toEqual(["hex-type", { line: 1 }, "Type 0x07"]);
    const zeros = `:FF000000${"00".repeat(255)}01\n`;
    expect(told(zeros.repeat(32_000))).toEqual(["hex-size", { line: 31_373 }, "More than 8000000 bytes"]);
  });

  it("is written with one address record for each block of 64 KB that holds something", () => {
    const bytes = Uint8Array.of(1, 2, 3, 4);
    // sums worked out by hand: 02+04+01 = 07, so F9; 02+FF+FE+01+02 = 202, so FE; and so on
    expect(writeHex([{ start: 0x1fffe, bytes }])).toBe(
      ":020000040001F9\n:02FFFE000102FE\n:020000040002F8\n:020000000304F7\n:00000001FF\n",
    );
    const long = writeHex([{ start: 0x10000, bytes: new Uint8Array(96) }]);
    expect(long.match(/^:02000004/gm)).toHaveLength(1);
    expect(readHex(long)).toMatchObject({ ok: true, value: [{ start: 0x10000 }] });
  });

  it("segment and linear addresses are followed, start addresses passed over", () => {
    const back = readHex(
      ":020000021000EC\n:0100000041BE\n:020000040800F2\n:0100000042BD\n:0400000508000000EF\n:00000001FF\n",
    );
    expect(back.ok && back.value.map((c) => c.start)).toEqual([0x10000, 0x08000000]);
  });
});

describe("an image", () => {
  const good = imageFile("heddle-23", "CSLATE-B");

  it("is read whole from HEX and from raw bytes", () => {
    const hex = new TextEncoder().encode(writeHex([{ start: applicationSpace(nettle20).start, bytes: good }]));
    for (const file of [hex, good]) {
      const image = readImageFile(file, nettle20);
      expect(
        image.ok && [image.value.identity.family, image.value.identity.version, image.value.identity.target],
      ).toEqual(["Heddle", "23", "CSLATE-B"]);
    }
  });

  it("of a file that nothing is known of: which processor it is for is found, as HEX or as raw bytes", () => {
    const all = [...catalogue().processors.values()].map((each) => processorOf(catalogue(), each.id));
    for (const [release, target, processor] of [
      ["heddle-22", "CSLATE-B", nettle20],
      ["heddle-23", "TMOTE", nettle26],
      ["weft-9", "PWEIR", processorOf(catalogue(), "Nettle 41")],
      ["bobbin-41", "PRILL", processorOf(catalogue(), "Nettle 12")],
    ] as const) {
      const bytes = imageFile(release, target);
      const hex = new TextEncoder().encode(writeHex([{ start: applicationSpace(processor).start, bytes }]));
      for (const file of [bytes, hex])
        expect(recogniseImage(file, all, PLAIN)).toMatchObject({ ok: true, value: { identity: { target } } });
    }
    const cut = imageFile("heddle-22", "CSLATE-B").slice(0, 100_000);
    expect(codeOf(recogniseImage(cut, all, PLAIN))).toBe("image-truncated");
    expect(codeOf(recogniseImage(new Uint8Array(5000).fill(7), all, PLAIN))).toBe("image-identity");
    expect(codeOf(recogniseImage(new TextEncoder().encode(":0100000041BE\n"), all, PLAIN))).toMatch(/^hex-/);
  });

  it("says what it is in a block of 64 bytes, which is believed only whole", () => {
    const at = nettle20.identityOffset;
    expect(readIdentity(good.subarray(0, at + 64), at, PLAIN)).toMatchObject({ family: "Heddle", target: "CSLATE-B" });
    expect(readIdentity(good.subarray(0, at + 63), at, PLAIN)).toBeUndefined();
    for (let i = 0; i < 64; i++) {
      const hurt = good.slice();
      hurt[at + i] = (hurt[at + i] ?? 0) ^ 0x20;
      expect([i, readIdentity(hurt, at, PLAIN)]).toEqual([i, undefined]);
    }
  });

  it("case C63: cut, damaged, outside of its space: refused with the figure", () => {
    expect(codeOf(readImageFile(good.subarray(0, good.length - 64), nettle20))).toBe("image-truncated");
    const damaged = good.slice();
    damaged[100_000] = (damaged[100_000] ?? 0) ^ 1;
    expect(codeOf(readImageFile(damaged, nettle20))).toBe("image-crc");
    expect(codeOf(imageFrom([{ start: 0x08000000, bytes: good }], nettle20))).toBe("image-outside");
    expect(readImageFile(new Uint8Array(2_000_000), nettle20)).toMatchObject({
      problem: {
        code: "image-outside",
        detail: expect.stringMatching(
          /^It writes 1953\.1 KB at 0x0800[0-9a-f]{4}; the application may use /,
        ) as unknown,
      },
    });
    expect(codeOf(readImageFile(new Uint8Array(9000), nettle20))).toBe("image-identity");
  });

  it("case C18: another processor is refused, whatever else fits", () => {
    const mote = readImageFile(imageFile("heddle-23", "TMOTE"), nettle26);
    expect(mote.ok && codeOf(checkImage(mote.value, { processor: nettle20, target: "TMOTE" }))).toBe("image-processor");
  });

  it("case C19: another target of the same processor is refused with a code of its own", () => {
    const image = readImageFile(good, nettle20);
    expect(image.ok && codeOf(checkImage(image.value, { processor: nettle20, target: "CSLATE-C" }))).toBe(
      "image-target",
    );
    expect(image.ok && codeOf(checkImage(image.value, { processor: nettle20, target: "CSLATE-B" }))).toBe("ok");
  });
});

describe("a settings region", () => {
  it("gives back what was stored, and tells blank and damaged from kept", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            ordinal: fc.integer({ min: 0, max: 0xffff }),
            profile: fc.integer({ min: 0, max: 9 }),
            text: fc.string({ maxLength: 40 }),
          }),
        ),
        (records) => {
          const region = decodeRegion(
            encodeRegion("some-format", encodeRecords(records, PLAIN_LAYOUT), PLAIN_LAYOUT),
            PLAIN,
          );
          expect(region.state === "kept" && decodeRecords(region.payload, PLAIN_LAYOUT)).toEqual(records);
        },
      ),
    );
    expect(decodeRegion(new Uint8Array(64).fill(0xff), PLAIN).state).toBe("blank");
    const region = encodeRegion(
      "some-format",
      encodeRecords([{ ordinal: 1, profile: 0, text: "12" }], PLAIN_LAYOUT),
      PLAIN_LAYOUT,
    );
    for (let i = 0; i < region.length; i++) {
      const hurt = region.slice();
      hurt[i] = (hurt[i] ?? 0) ^ 4;
      expect(decodeRegion(hurt, PLAIN).state).toBe("damaged");
    }
    const endless = region.slice();
    new DataView(endless.buffer).setUint32(8, 0xfffffff0, true);
    expect(decodeRegion(endless, PLAIN)).toEqual({
      state: "damaged",
      reason: "its length is larger than the region",
      overruns: true,
      layout: PLAIN_LAYOUT,
    });
  });

  it("whatever lies there, it is told at once: blank, damaged, or kept with a check that fits", () => {
    const genuine = fc
      .tuple(fc.uint8Array({ maxLength: 60 }), fc.array(fc.tuple(fc.nat(75), fc.nat(255)), { maxLength: 3 }))
      .map(([payload, hits]) => {
        const region = encodeRegion("some-format", payload, PLAIN_LAYOUT);
        for (const [at, value] of hits) if (at < region.length) region[at] = value;
        return region;
      });
    fc.assert(
      fc.property(fc.oneof(fc.uint8Array({ maxLength: 200 }), genuine), (bytes) => {
        const region = decodeRegion(bytes, PLAIN);
        if (region.state !== "kept") return;
        const again = encodeRegion("some-format", region.payload, PLAIN_LAYOUT);
        const same = (from: number, to: number) =>
          [...bytes.subarray(from, to)].join() === [...again.subarray(from, to)].join();
        // the mark of the format may be any other's: then the check covers another mark
        expect(same(8, 12) && same(16, again.length)).toBe(true);
        if (same(4, 8)) expect(same(0, again.length)).toBe(true);
        expect(decodeRecords(region.payload, PLAIN_LAYOUT).every(({ text }) => text.length <= 255)).toBe(true);
      }),
      { numRuns: Number(process.env.SOAK ?? 500) },
    );
  });

  it("records that were cut off give those before the cut, and nothing of the one that it went through", () => {
    const records = ["12", "", "on", "µ"].map((text, i) => ({ ordinal: 300 + i, profile: i, text }));
    const payload = encodeRecords(records, PLAIN_LAYOUT);
    const ends = records.map((_, i) => encodeRecords(records.slice(0, i + 1), PLAIN_LAYOUT).length);
    for (let cut = 0; cut <= payload.length; cut++)
      expect(decodeRecords(payload.subarray(0, cut), PLAIN_LAYOUT)).toEqual(
        records.slice(0, ends.filter((end) => end <= cut).length),
      );
  });
});
