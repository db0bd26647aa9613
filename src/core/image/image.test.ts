import fc from "fast-check";
import { processorOf } from "@/core/catalog";
import { checkImage, imageFrom, readImageFile, recogniseImage } from "@/core/image/check";
import { readHex, writeHex, type Chunk } from "@/core/image/hex";
import { applicationSpace } from "@/core/image/identity";
import { decodeRegion, encodeRegion, decodeRecords, encodeRecords } from "@/core/image/region";
import { catalogue, imageFile } from "../../../tests/support/workshop";

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

  it("case C54: overlapping, wrapping, cut, late and unknown records are refused with their line", () => {
    const refused = (text: string) => {
      const result = readHex(text);
      return result.ok ? undefined : [result.problem.code, result.problem.where?.line];
    };
    expect(refused(":0100000041BE\n:0100000042BD\n:00000001FF\n")).toEqual(["hex-overlap", 2]);
    expect(refused(":04FFFE0001020304F5\n:00000001FF\n")).toEqual(["hex-wrap", 1]);
    expect(refused(":020000021000EC\n:04FFFE0001020304F5\n:00000001FF\n")).toEqual(["hex-wrap", 2]);
    expect(refused(":0100000041BE\n")).toEqual(["hex-no-end", 2]);
    expect(refused(":00000001FF\n:0100000041BE\n")).toEqual(["hex-after-end", 2]);
    expect(refused(":0100000041BF\n")).toEqual(["hex-checksum", 1]);
    expect(refused(":01000007BE3A\n:00000001FF\n")).toEqual(["hex-type", 1]);
    expect(refused(":0200000041BD\n")).toEqual(["hex-length", 1]);
    expect(refused(":01000000ZZBE\n")).toEqual(["hex-digit", 1]);
    expect(refused("S00600004844521B")).toEqual(["hex-mark", 1]);
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
        expect(recogniseImage(file, all)).toMatchObject({ ok: true, value: { identity: { target } } });
    }
    const cut = imageFile("heddle-22", "CSLATE-B").slice(0, 100_000);
    expect(codeOf(recogniseImage(cut, all))).toBe("image-truncated");
    expect(codeOf(recogniseImage(new Uint8Array(5000).fill(7), all))).toBe("image-identity");
    expect(codeOf(recogniseImage(new TextEncoder().encode(":0100000041BE\n"), all))).toMatch(/^hex-/);
  });

  it("case C63: cut, damaged, outside of its space: refused with the figure", () => {
    expect(codeOf(readImageFile(good.subarray(0, good.length - 64), nettle20))).toBe("image-truncated");
    const damaged = good.slice();
    damaged[100_000] = (damaged[100_000] ?? 0) ^ 1;
    expect(codeOf(readImageFile(damaged, nettle20))).toBe("image-crc");
    expect(codeOf(imageFrom([{ start: 0x08000000, bytes: good }], nettle20))).toBe("image-outside");
    expect(codeOf(readImageFile(new Uint8Array(2_000_000), nettle20))).toBe("image-outside");
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
          const region = decodeRegion(encodeRegion("some-format", encodeRecords(records)));
          expect(region.state === "kept" && decodeRecords(region.payload)).toEqual(records);
        },
      ),
    );
    expect(decodeRegion(new Uint8Array(64).fill(0xff)).state).toBe("blank");
    const region = encodeRegion("some-format", encodeRecords([{ ordinal: 1, profile: 0, text: "12" }]));
    for (let i = 0; i < region.length; i++) {
      const hurt = region.slice();
      hurt[i] = (hurt[i] ?? 0) ^ 4;
      expect(decodeRegion(hurt).state).toBe("damaged");
    }
  });
});
