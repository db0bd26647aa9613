import { createHash } from "node:crypto";
import fc from "fast-check";
import type { Chunk } from "@/core/image/chunk";
import { FORMATS, formatOf, readChunks } from "@/core/image/formats";
import { DFU_SUFFIX } from "@/core/image/formats/dfu-suffix";
import type { ImageFormat, ReadFile } from "@/core/image/formats/format";
import { RAW } from "@/core/image/formats/raw";
import { S_RECORD } from "@/core/image/formats/s-record";
import { UF2 } from "@/core/image/formats/uf2";
import { valueOf, type Result } from "@/core/problem";

const START = 0x0800_4000;
const bytesOf = (text: string) => new TextEncoder().encode(text);
const told = (result: Result<Pick<ReadFile, "chunks">>) =>
  result.ok ? result.value.chunks.map(({ start, bytes }) => [start, [...bytes]]) : result.problem.code;
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
          told({ ok: true, value: { chunks: format.addressed ? all : filled(all) } }),
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
      else if (read.ok) expect([cut, told(read)]).toEqual([cut, told({ ok: true, value: { chunks: all } })]);
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
        for (const { start, bytes } of read.value.chunks) {
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

describe("what a file says beside its bytes", () => {
  const one = [{ start: START, bytes: Uint8Array.of(1, 2, 3) }];
  const byId = (id: string): ImageFormat => FORMATS.find((each) => each.id === id) ?? RAW;
  const facts = fc.record({
    familyId: fc.nat(0xffffffff),
    vendorId: fc.nat(0xfffe),
    productId: fc.nat(0xfffe),
    deviceVersion: fc.nat(0xfffe),
    entry: fc.integer({ min: 1, max: 0xffffffff }),
    heading: fc.stringMatching(/^[A-Za-z0-9][A-Za-z0-9 .-]{0,20}[A-Za-z0-9]$/),
  });

  it.each(FORMATS.map(({ id }) => id))("%s keeps what it says that it keeps, and nothing else", (id) => {
    const format = byId(id);
    fc.assert(
      fc.property(facts, (said) => {
        const back = valueOf(format.read(valueOf(format.write(one, { start: START, ...said })), { start: START }));
        expect(back.facts).toEqual(Object.fromEntries(format.keeps.map((fact) => [fact, said[fact]])));
      }),
      { numRuns: 60 },
    );
  });

  it("start records of HEX: a segment and an offset, or one address", () => {
    const entry = (record: string) => {
      const read = byId("intel-hex").read(bytesOf(`:0100000001FE\n${record}\n:00000001FF\n`), { start: 0 });
      return read.ok ? read.value.facts.entry : read.problem.code;
    };
    // sums by hand: 04+03+12+34+00+05 = 52, so AE; 04+05+08+00+41+01 = 53, so AD
    expect(entry(":0400000312340005AE")).toBe(0x12345);
    expect(entry(":0400000508004101AD")).toBe(0x08004101);
    expect(entry(":02000005ABCD81")).toBe("hex-length");
  });
});

describe("what is nearly a text of records", () => {
  const texts = { "intel-hex": ":0400000001020304F2\n:00000001FF\n", "s-record": "S107000001020304EE\nS9030000FC\n" };
  const wrapped: Readonly<Record<string, (text: string) => Uint8Array>> = {
    "lower case": (text) => bytesOf(text.toLowerCase()),
    "a remark before it": (text) => bytesOf(`# from the shelf\n; made in autumn\n// 2 of 3\n${text}`),
    "blank lines before it": (text) => bytesOf(`\n\n  \n${text}`),
    "a mark of UTF-8": (text) => Uint8Array.from([0xef, 0xbb, 0xbf, ...bytesOf(text)]),
    "UTF-16": (text) => Uint8Array.from([0xff, 0xfe, ...Buffer.from(text, "utf16le")]),
    "line ends of CR": (text) => bytesOf(text.replaceAll("\n", "\r")),
  };

  it.each(Object.entries(texts).flatMap(([id, text]) => Object.keys(wrapped).map((how) => [id, how, text] as const)))(
    "%s with %s is read",
    (id, how, text) => {
      const file = wrapped[how]?.(text) ?? new Uint8Array();
      expect([formatOf(file).id, told(formatOf(file).read(file, { start: START }))]).toEqual([id, [[0, [1, 2, 3, 4]]]]);
    },
  );

  it("a record never ends as raw bytes, whatever stands before or behind it", () => {
    const other = fc
      .string({ maxLength: 30 })
      .filter((text) => !text.includes("\0") && !text.includes("S") && !text.includes("s"));
    fc.assert(
      fc.property(
        fc.constantFrom(...Object.entries(texts)),
        fc.array(other, { maxLength: 5 }),
        other,
        ([, text], before, behind) => {
          const file = bytesOf(`${before.map((line) => `${line}\n`).join("")}${text}${behind}`);
          expect(formatOf(file).id).not.toBe("raw");
        },
      ),
    );
  });

  it("text that is no remark, and a record whose mark was damaged, are refused", () => {
    const hex = texts["intel-hex"];
    const read = (text: string) => {
      const file = bytesOf(text);
      const result = formatOf(file).read(file, { start: START });
      return result.ok ? "read" : [result.problem.code, result.problem.where?.line];
    };
    expect(read(`made in autumn\n${hex}`)).toEqual(["hex-before", 1]);
    for (const mark of ["#", ";", "//"]) expect(read(hex.replace(":", mark))).toEqual(["hex-before", 1]);
    expect(read(hex.replace(":0000", "# end\n:0000"))).toEqual(["hex-mark", 2]);
  });
});

describe("UF2 files for more than one board's flash", () => {
  const bytes = (fill: number) => [{ start: 0x1000, bytes: new Uint8Array(300).fill(fill) }];
  const oneOf = (familyId: number) => valueOf(UF2.write(bytes(familyId), { start: 0, familyId }));
  const both = Uint8Array.from([...oneOf(1), ...oneOf(2)]);
  const patched = (file: Uint8Array, words: Readonly<Record<number, number>>) => {
    const copy = file.slice();
    for (const [offset, value] of Object.entries(words))
      new DataView(copy.buffer).setUint32(Number(offset), value, true);
    return copy;
  };

  it("several families: refused with their names, or the one that is asked for", () => {
    expect(UF2.read(both, { start: 0 })).toMatchObject({
      problem: { code: "uf2-families", detail: "There are: 0x00000001, 0x00000002" },
    });
    expect(valueOf(UF2.read(both, { start: 0, familyId: 2 }))).toEqual({
      chunks: bytes(2),
      facts: { familyId: 2 },
      notes: [],
    });
    expect(codeOf(UF2.read(both, { start: 0, familyId: 3 }))).toBe("uf2-family");
    expect(codeOf(UF2.read(both.subarray(512), { start: 0, familyId: 2 }))).toBe("uf2-count");
    // numbered through
    const through = patched(both, { 24: 4, 536: 4, 1048: 4, 1560: 4, 1044: 2, 1556: 3 });
    expect(told(UF2.read(through, { start: 0, familyId: 1 }))).toEqual(told(UF2.read(oneOf(1), { start: 0 })));
  });

  it("files for a drive are refused by the name that they carry", () => {
    const file = patched(oneOf(1), { 8: 0x1000 });
    file.set(bytesOf("notes.txt"), 32 + 256);
    expect(UF2.read(file, { start: 0 })).toMatchObject({
      problem: { code: "uf2-files", detail: "The block is a piece of “notes.txt”", where: { line: 1 } },
    });
  });

  it("a sum of a stretch is proved where its bytes are here, and told where they are not", () => {
    const summed = (start: number, length: number, sum: string) => {
      const file = patched(oneOf(1), { 8: 0x6000, [32 + 452]: start, [32 + 456]: length });
      file.set(Buffer.from(sum, "hex"), 32 + 460);
      return UF2.read(file, { start: 0 });
    };
    const sum = createHash("md5").update(new Uint8Array(300).fill(1)).digest("hex");
    expect(summed(0x1000, 300, sum)).toMatchObject({
      value: { notes: ["the MD5 sums were proved, and are not written"] },
    });
    expect(codeOf(summed(0x1000, 299, sum))).toBe("uf2-md5");
    expect(summed(0x2000, 300, sum)).toMatchObject({
      value: { notes: ["1 MD5 sum is of bytes that are not in the file", expect.anything()] },
    });
    expect(codeOf(UF2.read(patched(oneOf(1), { 8: 0x6000, 16: 453 }), { start: 0 }))).toBe("uf2-size");
  });

  it("a block whose mark is damaged still is of this format, and is refused", () => {
    for (const offset of [0, 4, 508]) {
      const file = patched(oneOf(1), { [offset]: 7 });
      expect(formatOf(file).id).toBe("uf2");
      expect(codeOf(formatOf(file).read(file, { start: 0 }))).toBe("uf2-mark");
    }
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
    const other = plain.slice();
    other[other.length - 10] = 0x1a;
    let sum = 0xffffffff;
    for (const byte of other.subarray(0, other.length - 4)) {
      sum ^= byte;
      for (let bit = 0; bit < 8; bit++) sum = sum & 1 ? (sum >>> 1) ^ 0xedb88320 : sum >>> 1;
    }
    new DataView(other.buffer).setUint32(other.length - 4, sum >>> 0, true);
    expect(codeOf(DFU_SUFFIX.read(other, { start: 0 }))).toBe("dfu-version");
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
