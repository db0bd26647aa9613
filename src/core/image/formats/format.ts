import type { Chunk } from "@/core/image/chunk";
import type { Result } from "@/core/problem";

/** What a file of a format needs to know that does not stand in it. */
export interface FormatOptions {
  /** Where the first byte belongs, for formats without addresses. */
  readonly start: number;
  /** Of the device that the file is for, for formats that name it; 0xFFFF: any. */
  readonly vendorId?: number;
  readonly productId?: number;
}

/** A file format of images. Reading refuses with the line or block that is wrong; nothing is guessed. */
export interface ImageFormat {
  readonly id: string;
  readonly title: string;
  /** Of its files, without the dot. */
  readonly extension: string;
  /** Whether its files say at which address each byte belongs. */
  readonly addressed: boolean;
  /** Whether a file looks like one of this format; a file of none of the others is raw bytes. */
  readonly recognises: (file: Uint8Array) => boolean;
  readonly read: (file: Uint8Array, options: FormatOptions) => Result<Chunk[]>;
  readonly write: (chunks: readonly Chunk[], options: FormatOptions) => Result<Uint8Array>;
}

export const toText = (file: Uint8Array): string => new TextDecoder("latin1").decode(file);
export const toBytes = (text: string): Uint8Array => new TextEncoder().encode(text);
