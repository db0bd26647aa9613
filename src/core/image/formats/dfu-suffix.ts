import { buf as crc32buf } from "crc-32";
import { RAW } from "@/core/image/formats/raw";
import type { ImageFormat } from "@/core/image/formats/format";
import { ok, refuse } from "@/core/problem";

/**
 * USB Device Class Specification for Device Firmware Upgrade, Revision 1.1, Appendix B: raw bytes with a suffix of 16 that
 * names the device and carries a check over all before it. Little-endian.
 */
const SUFFIX = 16;
const ANY = 0xffff;
const VERSION = 0x0100;
/** Suffixes of these versions stand behind raw bytes; others may stand behind a container with places of its own. */
const VERSIONS: readonly number[] = [VERSION, 0x0110];
/** “DFU”, read from the end. */
const MARK = [0x55, 0x46, 0x44] as const;
const AT = { device: 0, product: 2, vendor: 4, version: 6, mark: 8, length: 11, crc: 12 } as const;

/** The standard's check is CRC-32 without the last inversion. */
const checkOf = (bytes: Uint8Array): number => ~crc32buf(bytes) >>> 0;

const hasMark = (file: Uint8Array): boolean => {
  const at = file.length - SUFFIX + AT.mark;
  return file.length >= SUFFIX && MARK.every((byte, i) => file[at + i] === byte);
};

export const DFU_SUFFIX: ImageFormat = {
  id: "dfu",
  title: "raw bytes with a DFU suffix",
  extension: "dfu",
  addressed: false,
  keeps: ["vendorId", "productId", "deviceVersion"],
  recognises: hasMark,
  read(file, options) {
    if (!hasMark(file))
      return refuse({
        code: "dfu-suffix",
        message: "The file carries no DFU suffix",
        detail: `Its last ${SUFFIX} bytes are not one`,
        hint: "Fetch the file again; it may have been cut off",
      });
    const view = new DataView(file.buffer, file.byteOffset, file.length);
    const length = file[file.length - SUFFIX + AT.length] ?? 0;
    // later revisions may make the suffix longer; it says itself how long it is
    if (length < SUFFIX || length > file.length)
      return refuse({
        code: "dfu-suffix",
        message: "The DFU suffix has no possible length",
        detail: `${length} bytes`,
      });
    const wanted = view.getUint32(file.length - 4, true);
    const found = checkOf(file.subarray(0, file.length - 4));
    if (wanted !== found)
      return refuse({
        code: "dfu-crc",
        message: "The file is damaged",
        detail: `Its suffix says 0x${wanted.toString(16).padStart(8, "0")}, its bytes give 0x${found.toString(16).padStart(8, "0")}`,
        hint: "Fetch the file again",
      });
    const word = (at: number) => view.getUint16(file.length - SUFFIX + at, true);
    const version = word(AT.version);
    if (!VERSIONS.includes(version))
      return refuse({
        code: "dfu-version",
        message: "The DFU suffix is of a version that is not read",
        detail: `Version ${version >> 8}.${(version & 0xff).toString(16)}; 1.0 and 1.10 stand behind plain bytes, others need not`,
        hint: "Fetch the image in another format",
      });
    const raw = RAW.read(file.subarray(0, file.length - length), options);
    if (!raw.ok) return raw;
    const said = (at: number) => (word(at) === ANY ? undefined : word(at));
    const [vendorId, productId, deviceVersion] = [said(AT.vendor), said(AT.product), said(AT.device)];
    const facts = {
      ...(vendorId === undefined ? {} : { vendorId }),
      ...(productId === undefined ? {} : { productId }),
      ...(deviceVersion === undefined ? {} : { deviceVersion }),
    };
    return ok({ chunks: raw.value.chunks, facts, notes: [] });
  },
  write(chunks, { vendorId = ANY, productId = ANY, deviceVersion = ANY, ...options }) {
    const raw = RAW.write(chunks, options);
    if (!raw.ok) return raw;
    const file = new Uint8Array(raw.value.length + SUFFIX);
    file.set(raw.value);
    const view = new DataView(file.buffer, raw.value.length);
    view.setUint16(AT.device, deviceVersion, true);
    view.setUint16(AT.product, productId, true);
    view.setUint16(AT.vendor, vendorId, true);
    view.setUint16(AT.version, VERSION, true);
    file.set(MARK, raw.value.length + AT.mark);
    view.setUint8(AT.length, SUFFIX);
    view.setUint32(AT.crc, checkOf(file.subarray(0, file.length - 4)), true);
    return ok(file);
  },
};
