import type { Chunk } from "@/core/image/chunk";
import type { Result } from "@/core/problem";

/** What a file says beside its bytes. Not every format can say all of it. */
export interface FileFacts {
  /** UF2: the family of processors that the blocks are for. */
  readonly familyId?: number;
  /** DFU suffix: of the device that the file is for; 0xFFFF: any. */
  readonly vendorId?: number;
  readonly productId?: number;
  readonly deviceVersion?: number;
  /** Address where the program begins. */
  readonly entry?: number;
  /** S-record: what the header record says. */
  readonly heading?: string;
}

export interface FormatOptions extends FileFacts {
  /** Where the first byte belongs, for formats without addresses. */
  readonly start: number;
}

export interface ReadFile {
  /** In ascending order, none touching the next. */
  readonly chunks: Chunk[];
  readonly facts: FileFacts;
  /** What was passed over, in whole sentences. */
  readonly notes: readonly string[];
}

/** A file format of images. Reading refuses with the line or block that is wrong; nothing is guessed. */
export interface ImageFormat {
  readonly id: string;
  readonly title: string;
  /** Of its files, without the dot. */
  readonly extension: string;
  /** Whether its files say at which address each byte belongs. */
  readonly addressed: boolean;
  /** What its files can say beside the bytes. */
  readonly keeps: readonly (keyof FileFacts)[];
  /** Whether a file looks like one of this format; a file of none of the others is raw bytes. */
  readonly recognises: (file: Uint8Array) => boolean;
  /** `options.familyId` chooses among the families of a file that is for several. */
  readonly read: (file: Uint8Array, options: FormatOptions) => Result<ReadFile>;
  readonly write: (chunks: readonly Chunk[], options: FormatOptions) => Result<Uint8Array>;
}

export const toBytes = (text: string): Uint8Array => new TextEncoder().encode(text);
