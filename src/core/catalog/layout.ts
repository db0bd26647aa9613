import type { Problem } from "@/core/problem";

/** A field of a block: where it begins in it, and how many bytes it has. */
export interface LayoutField {
  readonly at: number;
  readonly bytes: number;
}

/** Bytes by which a block is known, in hex. */
export interface LayoutMark {
  readonly at: number;
  readonly hex: string;
}

/** CRC-32 (ISO-HDLC), or the sum of all bytes in 32 bits. */
export type LayoutCheck = "crc32" | "sum32";

/**
 * The block by which an image says what it is. Texts are ASCII, filled up with zeros; a name of which only four bytes are
 * kept stands as its CRC-32. `imageCheck` is over the whole image with this block taken as zeros, `ownCheck` over the block
 * up to itself.
 */
export interface ImageLayout {
  readonly bytes: number;
  readonly mark: LayoutMark;
  readonly family: LayoutField;
  readonly version: LayoutField;
  readonly target: LayoutField;
  /** Name of the format of its settings region. */
  readonly region: { readonly at: number };
  readonly length: { readonly at: number };
  readonly imageCheck: { readonly at: number };
  readonly processor: { readonly at: number };
  readonly ownCheck: { readonly at: number };
}

/** How a settings region is kept: a head, then records of number, profile, length and text. */
export interface RegionLayout {
  readonly headBytes: number;
  readonly mark: LayoutMark;
  readonly format: { readonly at: number };
  readonly length: { readonly at: number };
  readonly check: { readonly at: number };
  /** Bytes of the head that the check covers before the records, from and up to. */
  readonly covers: readonly [from: number, to: number];
  /** Bytes of a record's fields. */
  readonly record: { readonly number: number; readonly profile: number; readonly length: number };
  /** Numbers from which on a record is not of a setting: rows by table, that a table was written at all, active profiles. */
  readonly numbers: { readonly rows: number; readonly tables: number; readonly active: number };
}

/** How a family marks its images and keeps its settings: a document that releases name. */
export interface Layout {
  readonly id: string;
  readonly title: string;
  /** Which end of a number comes first. */
  readonly order: "little" | "big";
  readonly check: LayoutCheck;
  readonly image: ImageLayout;
  readonly region: RegionLayout;
}

type Named = LayoutField & { readonly name: string };

const NUMBER_BYTES = 4;
const marked = ({ at, hex }: LayoutMark): Named => ({ name: "mark", at, bytes: hex.length / 2 });
const textsOf = (image: ImageLayout): Named[] =>
  (["family", "version", "target"] as const).map((name) => ({ name, ...image[name] }));
const numbersOf = (image: ImageLayout): Named[] =>
  (["region", "length", "imageCheck", "processor"] as const).map((name) => ({
    name,
    at: image[name].at,
    bytes: NUMBER_BYTES,
  }));

/** The first field that runs into the next one, or out of its block. */
function overlap(fields: readonly Named[], bytes: number): string | undefined {
  const inOrder = fields.toSorted((a, b) => a.at - b.at);
  for (const [i, { name, at, bytes: size }] of inOrder.entries()) {
    const next = inOrder[i + 1];
    if (at + size > (next?.at ?? bytes))
      return `${name} ends at ${at + size}, ${next ? `${next.name} begins at ${next.at}` : `the block at ${bytes}`}`;
  }
  return undefined;
}

/** What of a layout does not fit together: fields that overlap, checks that cover themselves or leave something out. */
export function layoutFault({ id, image, region }: Layout): Problem | undefined {
  const problem = (path: string, detail: string): Problem => ({
    code: "layout-inconsistent",
    message: `The fields of the layout ${id} do not fit together`,
    detail,
    where: { path },
  });
  const said = [marked(image.mark), ...textsOf(image), ...numbersOf(image)];
  const inImage = overlap([...said, { name: "ownCheck", at: image.ownCheck.at, bytes: NUMBER_BYTES }], image.bytes);
  if (inImage !== undefined) return problem("image", inImage);
  const behind = said.find(({ at }) => at > image.ownCheck.at);
  if (behind) return problem("image/ownCheck", `${behind.name} lies behind it and is not covered by it`);
  const head = (["format", "length", "check"] as const).map((name) => ({
    name,
    at: region[name].at,
    bytes: NUMBER_BYTES,
  }));
  const inRegion = overlap([marked(region.mark), ...head], region.headBytes);
  if (inRegion !== undefined) return problem("region", inRegion);
  const [from, to] = region.covers;
  const own = region.check.at;
  if (from > to || to > region.headBytes || (own < to && own + NUMBER_BYTES > from))
    return problem("region/covers", `From ${from} to ${to}, with the check itself at ${own}`);
  const { rows, tables, active } = region.numbers;
  if (!(rows < tables && tables < active)) return problem("region/numbers", "Rows, then tables, then active profiles");
  const most = 256 ** region.record.number;
  if (active >= most) return problem("region/numbers", `${active} does not fit ${region.record.number} bytes`);
  return undefined;
}

/** What releases have that name no layout: documents from before there were several. */
export const PLAIN_LAYOUT: Layout = {
  id: "",
  title: "Plain",
  order: "little",
  check: "crc32",
  image: {
    bytes: 64,
    mark: { at: 0, hex: "46534944" },
    family: { at: 4, bytes: 12 },
    version: { at: 16, bytes: 8 },
    target: { at: 24, bytes: 16 },
    region: { at: 40 },
    length: { at: 44 },
    imageCheck: { at: 48 },
    processor: { at: 52 },
    ownCheck: { at: 60 },
  },
  region: {
    headBytes: 16,
    mark: { at: 0, hex: "4652474e" },
    format: { at: 4 },
    length: { at: 8 },
    check: { at: 12 },
    covers: [4, 12],
    record: { number: 2, profile: 1, length: 1 },
    numbers: { rows: 0x8000, tables: 0x9000, active: 0xf000 },
  },
};
