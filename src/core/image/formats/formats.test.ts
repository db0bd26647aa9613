import fc from "fast-check";
import type { Chunk } from "@/core/image/chunk";
import { FORMATS, formatOf, readChunks } from "@/core/image/formats";
import { DFU_SUFFIX } from "@/core/image/formats/dfu-suffix";
import type { ImageFormat } from "@/core/image/formats/format";
import { RAW } from "@/core/image/formats/raw";
import { S_RECORD } from "@/core/image/formats/s-record";
import { UF2 } from "@/core/image/formats/uf2";
import { valueOf, type Result } from "@/core/problem";

const START = 0x0800_4000;
const bytesOf = (text: string) => new TextEncoder().encode(text);
const told = (result: Result<Chunk[]>) =>
  result.ok ? result.value.map(({ start, bytes }) => [start, [...bytes]]) : result.problem.code;
const codeOf = (result: Result<unknown>) => (result.ok ? "ok" : result.problem.code);

/** Runs of bytes in ascending order, with gaps between them, anywhere in 32 bits. */
const chunks: fc.Arbitrary<Chunk[]> = fc
  .tuple(
    fc.constantFrom(0, 0xfff0, 0x0800_0000, 0x1fff_fff0, 0xfff0_0000),
    fc.array(fc.tuple(fc.integer({ min: 1, max: 3000 }), fc.uint8Array({ minLength: 1, maxLength: 700 })), {
      minLength: 1,
      maxLength: 5,
    }),
  )
  .map(([from, parts]) => {
    let at = from;
    return parts.map(([gap, bytes]) => {
      const start = at + gap;
      at = start + bytes.length;
      return { start, bytes };
    });
  });
/** Where gaps are erased flash, the runs are one. */
const filled = (all: readonly Chunk[]): Chunk[] => {
  const start = all[0]?.start ?? 0;
  const bytes: number[] = [];
  for (const chunk of all) {
    while (bytes.length < chunk.start - start) bytes.push(0xff);
    bytes.push(...chunk.bytes);
  }
  return [{ start, bytes: Uint8Array.from(bytes) }];
};

describe.each(FORMATS.map((format) => [format.title, format] as const))("%s", (_, format: ImageFormat) => {
  it("what is written is recognised and read again, wherever it lies", () => {
    fc.assert(
      fc.property(chunks, (all) => {
        const start = all[0]?.start ?? 0;
        const file = valueOf(format.write(all, { start }));
        // raw bytes may begin like anything: whoever has them says so
        if (format.id !== "raw" && format.id !== "dfu") expect(formatOf(file).id).toBe(format.id);
        expect(format.recognises(file)).toBe(true);
        expect(told(format.read(file, { start }))).toEqual(
          told({ ok: true, value: format.addressed ? all : filled(all) }),
        );
      }),
      { numRuns: 60 },
    );
  });

  it("a file that was cut gives no other bytes than it held: it is refused, or ends earlier where nothing says how long it is", () => {
    const all = [{ start: START, bytes: Uint8Array.from({ length: 600 }, (_unused, i) => i & 0xff) }];
    const file = valueOf(format.write(all, { start: START }));
    for (let cut = 0; cut < file.length; cut++) {
      const read = format.read(file.subarray(0, cut), { start: START });
      if (format.id === "raw") expect(told(read)).toEqual(cut === 0 ? [] : [[START, [...file.subarray(0, cut)]]]);
      // a text without its last line ends, or without an end record that a count makes needless, says the same
      else if (read.ok) expect([cut, told(read)]).toEqual([cut, told({ ok: true, value: all })]);
    }
  });

  it("whatever is put before it, it ends with chunks in order or with a problem that says where", () => {
    const any = fc.oneof(
      fc.uint8Array({ maxLength: 600 }),
      fc
        .array(fc.constantFrom("S", ":", "0", "1", "3", "7", "9", "A", "F", "\n", "\r\n", " ", "é"), { maxLength: 200 })
        .map((all) => bytesOf(all.join(""))),
      chunks
        .map((all) => valueOf(format.write(all, { start: START })))
        .chain((file) =>
          fc.array(fc.tuple(fc.nat(file.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }).map((hits) => {
            const hurt = file.slice();
            for (const [at, value] of hits) hurt[at] = value;
            return hurt;
          }),
        ),
    );
    fc.assert(
      fc.property(any, (file) => {
        const read = format.read(file, { start: START });
        if (!read.ok) return expect(read.problem.message).not.toBe("");
        let end = -1;
        for (const { start, bytes } of read.value) {
          expect([start > end, bytes.length > 0]).toEqual([true, true]);
          end = start + bytes.length;
        }
        expect(end <= 2 ** 32 || !format.addressed).toBe(true);
      }),
      { numRuns: Number(process.env.SOAK ?? 400) },
    );
  });
});

describe("damage", () => {
  it.each(["intel-hex", "s-record", "dfu"])(
    "one changed bit in a file of %s is refused, or changes no byte of the image",
    (id) => {
      const format = FORMATS.find((each) => each.id === id) ?? RAW;
      const all = [{ start: START, bytes: Uint8Array.from({ length: 96 }, (_, i) => (i * 7) & 0xff) }];
      const file = valueOf(format.write(all, { start: START }));
      const whole = told(format.read(file, { start: START }));
      const firstWidth = file.indexOf(0x0a) + 2;
      for (let at = 0; at < file.length; at++)
        for (let bit = 0; bit < 8; bit++) {
          const hurt = file.slice();
          hurt[at] = (hurt[at] ?? 0) ^ (1 << bit);
          const read = told(format.read(hurt, { start: START }));
          // the digit that says how wide an S-record's address is stands outside of its checksum: in the first record of
          // data nothing tells that it was another
          if (id === "s-record" && at === firstWidth) continue;
          if (typeof read !== "string") expect([at, bit, read]).toEqual([at, bit, whole]);
        }
    },
  );
});

describe("case C54, case C63: Motorola S-record", () => {
  const read = (text: string) => {
    const result = S_RECORD.read(bytesOf(text), { start: 0 });
    return result.ok ? told(result) : [result.problem.code, result.problem.where?.line];
  };

  it("all three widths of addresses, header and counts", () => {
    // sums by hand: 04+00+38+41 = 7D, so 82; 05+01+00+00+42 = 48, so B7; 06+08+00+00+00+43 = 51, so AE
    expect(
      read(
        "S0030000FC\nS104003841 82\n".replace(" ", "") +
          "S20501000042B7\nS3060800000043AE\nS5030003F9\nS70500000000FA\n",
      ),
    ).toEqual([
      [0x38, [0x41]],
      [0x10000, [0x42]],
      [0x08000000, [0x43]],
    ]);
  });

  it("refusals with their line", () => {
    const end = "S9030000FC\n";
    expect(read(`S10400384182\nS10400384281\n${end}`)).toEqual(["srec-overlap", 2]);
    expect(read("S10400384182\n")).toEqual(["srec-no-end", 2]);
    expect(read(`${end}S10400384182\n`)).toEqual(["srec-after-end", 2]);
    expect(read(`S10400384183\n${end}`)).toEqual(["srec-checksum", 1]);
    expect(read(`S1050038418101\n${end}`)).toEqual(["srec-checksum", 1]);
    expect(read(`S10500384182\n${end}`)).toEqual(["srec-length", 1]);
    expect(read("S1040038")).toEqual(["srec-length", 1]);
    expect(read(`S1040038ZZ82\n${end}`)).toEqual(["srec-digit", 1]);
    expect(read("S4030000FC")).toEqual(["srec-type", 1]);
    expect(read(":00000001FF")).toEqual(["srec-type", 1]);
    expect(read(`S10400384182\nS5030002FA\n${end}`)).toEqual(["srec-count", 2]);
    expect(read(`S2050100004 2B7\nS10400384182\n${end}`.replace(" ", ""))).toEqual(["srec-width", 2]);
    // without an end record, a count after the last one says that all are here
    expect(read("S10400384182\nS5030001FB\n")).toEqual([[0x38, [0x41]]]);
    expect(read("S10400384182\nS5030001FB\nS10400394181\n")).toEqual(["srec-no-end", 4]);
    // 05+FF+FF+01+02 = 206, so F9
    expect(read(`S105FFFF0102F9\n${end}`)).toEqual(["srec-wrap", 1]);
  });

  it("is written as a person would work it out", () => {
    const file = valueOf(S_RECORD.write([{ start: 0x08000000, bytes: Uint8Array.of(0x43) }], { start: 0 }));
    expect(new TextDecoder().decode(file)).toBe("S0030000FC\nS3060800000043AE\nS5030001FB\nS70500000000FA\n");
  });
});

describe("UF2", () => {
  const file = valueOf(UF2.write([{ start: 0x08000000, bytes: new Uint8Array(600).fill(7) }], { start: 0 }));
  const changed = (block: number, offset: number, value: number) => {
    const copy = file.slice();
    new DataView(copy.buffer).setUint32(block * 512 + offset, value, true);
    return UF2.read(copy, { start: 0 });
  };

  it("blocks may come in any order, those that are not for the main flash are passed over", () => {
    expect(file).toHaveLength(3 * 512);
    const turned = new Uint8Array([...file.subarray(1024), ...file.subarray(0, 1024)]);
    expect(told(UF2.read(turned, { start: 0 }))).toEqual(told(UF2.read(file, { start: 0 })));
    expect(told(changed(2, 8, 1))).toEqual([[0x08000000, new Array(512).fill(7)]]);
  });

  it("lost, doubled, unmarked, overfull, overlapping and wrapping blocks are refused", () => {
    expect(codeOf(UF2.read(file.subarray(0, 1024), { start: 0 }))).toBe("uf2-count");
    expect(codeOf(UF2.read(file.subarray(0, 1000), { start: 0 }))).toBe("uf2-length");
    expect(codeOf(UF2.read(new Uint8Array(), { start: 0 }))).toBe("uf2-length");
    expect(codeOf(changed(1, 20, 0))).toBe("uf2-twice");
    expect(codeOf(changed(1, 20, 3))).toBe("uf2-count");
    for (const offset of [0, 4, 508]) expect(codeOf(changed(1, offset, 5))).toBe("uf2-mark");
    expect(codeOf(changed(0, 16, 477))).toBe("uf2-size");
    expect(codeOf(changed(1, 12, 0x08000080))).toBe("uf2-overlap");
    expect(codeOf(changed(1, 12, 0xffffffff))).toBe("uf2-wrap");
  });
});

describe("raw bytes with a DFU suffix", () => {
  it("carry the check of the standard's Appendix B over all but itself", () => {
    const file = valueOf(
      DFU_SUFFIX.write([{ start: 0, bytes: bytesOf("123456789") }], { start: 0, vendorId: 0x1209, productId: 0x0009 }),
    );
    expect([...file.subarray(9, 21)]).toEqual([0xff, 0xff, 0x09, 0x00, 0x09, 0x12, 0x00, 0x01, 0x55, 0x46, 0x44, 16]);
    // worked out bit by bit, apart from the product's own means
    let crc = 0xffffffff;
    for (const byte of file.subarray(0, file.length - 4)) {
      crc ^= byte;
      for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
    }
    expect(new DataView(file.buffer).getUint32(file.length - 4, true)).toBe(crc >>> 0);
  });

  it("a suffix that is longer than today's is passed over as it says", () => {
    const plain = valueOf(DFU_SUFFIX.write([{ start: 0, bytes: bytesOf("12345678901234567890") }], { start: 0 }));
    const longer = plain.slice();
    longer[longer.length - 5] = 20;
    const view = new DataView(longer.buffer);
    let crc = 0xffffffff;
    for (const byte of longer.subarray(0, longer.length - 4)) {
      crc ^= byte;
      for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
    }
    view.setUint32(longer.length - 4, crc >>> 0, true);
    expect(told(DFU_SUFFIX.read(longer, { start: 0 }))).toEqual([[0, [...bytesOf("1234567890123456")]]]);
    longer[longer.length - 5] = 15;
    expect(codeOf(DFU_SUFFIX.read(longer, { start: 0 }))).toBe("dfu-suffix");
    expect(codeOf(readChunks(plain.subarray(0, plain.length - 1), { start: 0 }))).toBe("ok");
    expect(codeOf(DFU_SUFFIX.read(plain.subarray(0, plain.length - 1), { start: 0 }))).toBe("dfu-suffix");
  });
});

describe("gaps", () => {
  it("raw bytes cannot keep them: they are filled up, or refused where they are larger than any flash", () => {
    const far = [
      { start: 0, bytes: Uint8Array.of(1) },
      { start: 0x0800_0000, bytes: Uint8Array.of(2) },
    ];
    for (const format of [RAW, DFU_SUFFIX]) {
      expect(codeOf(format.write(far, { start: 0 }))).toBe("image-gaps");
      expect(codeOf(format.write([], { start: 0 }))).toBe("image-gaps");
    }
    expect(codeOf(RAW.read(new Uint8Array(8_000_001), { start: 0 }))).toBe("raw-size");
  });
});
