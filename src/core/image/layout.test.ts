import fc from "fast-check";
import { buildCatalogue, layoutFault, PLAIN_LAYOUT, readDocument, type Layout } from "@/core/catalog";
import { readIdentity, stampIdentity } from "@/core/image/identity";
import { decodeRecords, decodeRegion, encodeRecords, encodeRegion } from "@/core/image/region";
import { valueOf } from "@/core/problem";
import { demoDocuments } from "../../../demo/documents";

/** Fields laid one after the other in a drawn order, with gaps between them; gives where each begins, and the end. */
const laid = <N extends string>(fields: Readonly<Record<N, number>>, last?: NoInfer<N>) =>
  fc
    .tuple(
      fc.shuffledSubarray(
        (Object.keys(fields) as N[]).filter((name) => name !== last),
        {
          minLength: Object.keys(fields).length - (last === undefined ? 0 : 1),
        },
      ),
      fc.array(fc.integer({ min: 0, max: 1 }), { minLength: 12, maxLength: 12 }),
    )
    .map(([order, gaps]) => {
      let at = 0;
      const places = Object.fromEntries(
        [...order, ...(last === undefined ? [] : [last])].map((name, i) => {
          const begins = at + (gaps[i] ?? 0);
          at = begins + fields[name];
          return [name, begins];
        }),
      ) as Record<N, number>;
      return { places, end: at };
    });

const hexes = fc.uint8Array({ minLength: 3, maxLength: 5 }).map((bytes) => Buffer.from(bytes).toString("hex"));

const layouts: fc.Arbitrary<Layout> = fc
  .record({
    hex: hexes,
    regionHex: hexes,
    order: fc.constantFrom("little", "big"),
    check: fc.constantFrom("crc32", "sum32"),
  })
  .chain(({ hex, regionHex, order, check }) =>
    fc
      .record({
        image: laid(
          {
            mark: hex.length / 2,
            family: 8,
            version: 4,
            target: 9,
            region: 4,
            length: 4,
            imageCheck: 4,
            processor: 4,
            ownCheck: 4,
          },
          "ownCheck",
        ),
        region: laid({ mark: regionHex.length / 2, format: 4, length: 4, check: 4 }, "check"),
        number: fc.constantFrom(2, 4),
        profile: fc.constantFrom(1, 2),
        length: fc.constantFrom(1, 2),
      })
      .map(({ image: { places: at, end }, region: { places: of, end: headBytes }, ...record }): Layout => ({
        id: "drawn",
        title: "Drawn",
        order,
        check,
        image: {
          bytes: end,
          mark: { at: at.mark, hex },
          family: { at: at.family, bytes: 8 },
          version: { at: at.version, bytes: 4 },
          target: { at: at.target, bytes: 9 },
          region: { at: at.region },
          length: { at: at.length },
          imageCheck: { at: at.imageCheck },
          processor: { at: at.processor },
          ownCheck: { at: at.ownCheck },
        },
        region: {
          headBytes,
          mark: { at: of.mark, hex: regionHex },
          format: { at: of.format },
          length: { at: of.length },
          check: { at: of.check },
          covers: [0, of.check],
          record,
          numbers: { rows: 0x8000, tables: 0x9000, active: 0xf000 },
        },
      })),
  );

const IDENTITY = {
  family: "Heddle",
  version: "23",
  target: "CSLATE-B",
  processor: "Nettle 20",
  regionFormat: "a-format",
  lengthBytes: 400,
};

describe("a layout by a document, whatever it says", () => {
  it("what is stamped in it is read in it, and one byte changed anywhere in the block is found", () => {
    fc.assert(
      fc.property(layouts, fc.nat(63), (layout, at) => {
        expect(layoutFault(layout)).toBeUndefined();
        const image = new Uint8Array(400).fill(0x5a);
        stampIdentity(image, IDENTITY, 100, layout);
        const { family, version, target, lengthBytes } = IDENTITY;
        expect(readIdentity(image, 100, [PLAIN_LAYOUT, layout])).toMatchObject({
          family,
          version,
          target,
          lengthBytes,
          layout,
        });
        if (at >= layout.image.bytes) return;
        image[100 + at] = (image[100 + at] ?? 0) ^ 0x21;
        const behind = at >= layout.image.ownCheck.at + 4;
        expect(readIdentity(image, 100, [layout]) === undefined).toBe(!behind);
      }),
    );
  });

  it("settings kept in it are read in it, and damage is found wherever it lies", () => {
    const records = fc.array(
      fc.record({
        ordinal: fc.integer({ min: 0, max: 0xffff }),
        profile: fc.integer({ min: 0, max: 9 }),
        text: fc.string({ maxLength: 40 }),
      }),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(layouts, records, fc.nat(), (layout, all, hit) => {
        const region = encodeRegion("a-format", encodeRecords(all, layout), layout);
        const content = decodeRegion(region, [PLAIN_LAYOUT, layout]);
        expect(content.state === "kept" && [content.layout, decodeRecords(content.payload, layout)]).toEqual([
          layout,
          all,
        ]);
        const at = hit % region.length;
        // a gap between the check and the records is covered by nothing
        if (at >= layout.region.check.at + 4 && at < layout.region.headBytes) return;
        region[at] = (region[at] ?? 0) ^ 0x21;
        expect(decodeRegion(region, [layout]).state).toBe("damaged");
      }),
    );
  });

  it("fields that overlap or lie outside are refused with their place, and so is a release that names a layout that is not there", () => {
    const { image, region } = PLAIN_LAYOUT;
    const fault = (change: Partial<Layout>) => layoutFault({ ...PLAIN_LAYOUT, ...change })?.where?.path;
    expect(fault({})).toBeUndefined();
    expect(fault({ image: { ...image, length: { at: 41 } } })).toBe("image");
    expect(fault({ image: { ...image, bytes: 63 } })).toBe("image");
    expect(fault({ image: { ...image, processor: { at: 60 }, ownCheck: { at: 52 } } })).toBe("image/ownCheck");
    expect(fault({ region: { ...region, check: { at: 13 } } })).toBe("region");
    expect(fault({ region: { ...region, covers: [4, 14] } })).toBe("region/covers");
    expect(fault({ region: { ...region, covers: [12, 4] } })).toBe("region/covers");
    expect(fault({ region: { ...region, numbers: { rows: 9, tables: 9, active: 10 } } })).toBe("region/numbers");
    // a number that its field cuts would be read as that of a setting
    expect(fault({ region: { ...region, numbers: { rows: 9, tables: 10, active: 0x10000 } } })).toBe("region/numbers");
    const documents = demoDocuments().map(({ text }) => valueOf(readDocument(text)));
    const without = buildCatalogue(documents.filter(({ document }) => document !== "layout"));
    expect(!without.ok && without.problem.code).toBe("release-layout");
  });
});
