import { fillGaps, MAX_IMAGE_BYTES } from "@/core/image/chunk";
import type { ImageFormat } from "@/core/image/formats/format";
import { ok, refuse } from "@/core/problem";

/** Bytes as they lie in flash, without an address; gaps are written as erased flash. */
export const RAW: ImageFormat = {
  id: "raw",
  title: "raw bytes",
  extension: "bin",
  addressed: false,
  keeps: [],
  recognises: () => true,
  read: (file, { start }) =>
    file.length > MAX_IMAGE_BYTES
      ? refuse({ code: "raw-size", message: "The file is too large for an image", detail: `${file.length} bytes` })
      : ok({ chunks: file.length === 0 ? [] : [{ start, bytes: file }], facts: {}, notes: [] }),
  write: (chunks) => {
    const whole = fillGaps(chunks);
    return whole.ok ? ok(whole.value.bytes) : whole;
  },
};
