import crc16 from "crc/calculators/crc16";
import crc16ccitt from "crc/calculators/crc16ccitt";
import crc16kermit from "crc/calculators/crc16kermit";
import crc16modbus from "crc/calculators/crc16modbus";
import crc16xmodem from "crc/calculators/crc16xmodem";
import crc24 from "crc/calculators/crc24";
import crc32mpeg2 from "crc/calculators/crc32mpeg2";
import crc8 from "crc/calculators/crc8";
import crc81wire from "crc/calculators/crc81wire";
import { buf as crc32 } from "crc-32";

interface Algorithm {
  readonly bits: 8 | 16 | 24 | 32;
  /** Finds lines that changed their places, not only bytes that changed. */
  readonly strong: boolean;
  of(bytes: Uint8Array): number;
}

const sum = (bits: 8 | 16 | 32): Algorithm => ({
  bits,
  strong: false,
  of: (bytes) => {
    let all = 0;
    for (const byte of bytes) all = (all + byte) >>> 0;
    return bits === 32 ? all : all & ((1 << bits) - 1);
  },
});
const crc = (bits: 8 | 16 | 24 | 32, of: (bytes: Uint8Array) => number): Algorithm => ({
  bits,
  strong: bits > 8,
  of: (bytes) => of(bytes) >>> 0,
});

/**
 * Checks that texts carry. Those of CRC by their names in the catalogue of parametrised CRC algorithms: crc8 (SMBUS),
 * crc8-1wire (MAXIM-DOW); crc16 (XMODEM: 0x1021, start 0), crc16-arc, crc16-ccitt (IBM-3740: start 0xFFFF),
 * crc16-kermit, crc16-modbus; crc24 (OPENPGP); crc32 (ISO-HDLC), crc32-mpeg2. Sums and the exclusive or of all bytes
 * modulo 2 to their width.
 */
const ALGORITHMS = {
  crc32: crc(32, (bytes) => crc32(bytes)),
  crc16: crc(16, (bytes) => crc16xmodem(bytes)),
  sum8: sum(8),
  xor8: {
    bits: 8,
    strong: false,
    of: (bytes) => {
      let all = 0;
      for (const byte of bytes) all ^= byte;
      return all;
    },
  },
  sum16: sum(16),
  sum32: sum(32),
  crc8: crc(8, (bytes) => crc8(bytes)),
  "crc8-1wire": crc(8, (bytes) => crc81wire(bytes)),
  "crc16-arc": crc(16, (bytes) => crc16(bytes)),
  "crc16-ccitt": crc(16, (bytes) => crc16ccitt(bytes)),
  "crc16-kermit": crc(16, (bytes) => crc16kermit(bytes)),
  "crc16-modbus": crc(16, (bytes) => crc16modbus(bytes)),
  crc24: crc(24, (bytes) => crc24(bytes)),
  "crc32-mpeg2": crc(32, (bytes) => crc32mpeg2(bytes)),
} satisfies Record<string, Algorithm>;

type NamedCheck = keyof typeof ALGORITHMS;
/** Every kind that has a name, for those who try them. */
export const CHECK_KINDS = Object.keys(ALGORITHMS) as NamedCheck[];

/** A CRC by its parameters, as the catalogue of parametrised CRC algorithms gives them; `init` as it stands unreflected. */
export interface CrcForm {
  readonly crc: 8 | 16 | 24 | 32;
  readonly poly: number;
  readonly init?: number;
  /** Bytes come in, and the register goes out, with their lowest bit first. */
  readonly reflected?: boolean;
  readonly xor?: number;
}

/** A sum of bytes of which the complement is written. */
export interface SumForm {
  readonly sum: 8 | 16 | 32;
  readonly complement: "one" | "two";
}

export type CheckKind = NamedCheck | CrcForm | SumForm;

const reversed = (value: number, bits: number): number => {
  let turned = 0;
  for (let i = 0; i < bits; i++) if ((value >>> i) & 1) turned |= 1 << (bits - 1 - i);
  return turned >>> 0;
};

/** A CRC by a table of its bytes: the register stands at the upper end of 32 bits, or reflected at the lower one. */
function crcOf({ crc: bits, poly, init = 0, reflected = false, xor = 0 }: CrcForm): Algorithm {
  const shift = 32 - bits;
  const divisor = reflected ? reversed(poly, bits) : (poly << shift) >>> 0;
  const table = Uint32Array.from({ length: 256 }, (_, byte) => {
    let register = reflected ? byte : (byte << 24) >>> 0;
    for (let i = 0; i < 8; i++) {
      const out = reflected ? (register & 1) !== 0 : register >>> 31 !== 0;
      register = reflected ? register >>> 1 : (register << 1) >>> 0;
      if (out) register = (register ^ divisor) >>> 0;
    }
    return register;
  });
  return crc(bits, (bytes) => {
    let register = reflected ? reversed(init, bits) : (init << shift) >>> 0;
    for (const byte of bytes)
      register = reflected
        ? (register >>> 8) ^ (table[(register ^ byte) & 255] ?? 0)
        : ((register << 8) ^ (table[(register >>> 24) ^ byte] ?? 0)) >>> 0;
    return (reflected ? register : register >>> shift) ^ xor;
  });
}

function complementOf({ sum: bits, complement }: SumForm): Algorithm {
  const plain = sum(bits);
  const most = 2 ** bits;
  return {
    ...plain,
    of: (bytes) => (most - (complement === "one" ? 1 : 0) - plain.of(bytes) + most) % most,
  };
}

const made = new WeakMap<CrcForm | SumForm, Algorithm>();

function algorithmOf(kind: CheckKind): Algorithm {
  if (typeof kind === "string") return ALGORITHMS[kind];
  const known = made.get(kind) ?? ("crc" in kind ? crcOf(kind) : complementOf(kind));
  made.set(kind, known);
  return known;
}

/** What a check is called in a sentence. */
export const checkTitle = (kind: CheckKind): string =>
  typeof kind === "string"
    ? kind
    : "crc" in kind
      ? `CRC-${kind.crc} by 0x${kind.poly.toString(16)}`
      : `the ${kind.complement}’s complement of sum${kind.sum}`;

export const DIGITS = ["hex", "HEX", "decimal"] as const;
export type Digits = (typeof DIGITS)[number];
export type Encoding = "utf-8" | "latin-1";

/** How a check is made and written: its kind alone stands for lower-case hex digits of its width. */
export interface CheckForm {
  readonly kind: CheckKind;
  readonly digits: Digits;
}

export const checkForm = (written: CheckKind | { readonly kind: CheckKind; readonly digits?: Digits }): CheckForm =>
  typeof written === "object" && "kind" in written ? { digits: "hex", ...written } : { kind: written, digits: "hex" };

export const isStrong = ({ kind }: CheckForm): boolean => algorithmOf(kind).strong;

const encoder = new TextEncoder();

/** Most lines are short and plain: they need no encoder, and no bytes of their own. */
const scratch = new Uint8Array(256);

/** The bytes of a text, good until the next text: in Latin-1 (ISO 8859-1) what has no place there is a question mark. */
function bytesFor(text: string, encoding: Encoding): Uint8Array {
  if (text.length > scratch.length) return bytesOf(text, encoding);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 127) return bytesOf(text, encoding);
    scratch[i] = code;
  }
  return scratch.subarray(0, text.length);
}

/** The bytes of a text: in Latin-1 (ISO 8859-1) what has no place there is a question mark. */
export function bytesOf(text: string, encoding: Encoding = "utf-8"): Uint8Array {
  if (encoding === "utf-8") return encoder.encode(text);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    bytes[i] = code < 256 ? code : 63;
  }
  return bytes;
}

export const checkOf = (bytes: Uint8Array, { kind }: CheckForm): number => algorithmOf(kind).of(bytes);

/** The digits of a check as the language writes them. */
export function checkDigits(text: string, form: CheckForm, encoding: Encoding = "utf-8"): string {
  const value = checkOfText(text, form, encoding);
  if (form.digits === "decimal") return String(value);
  const hex = value.toString(16).padStart(algorithmOf(form.kind).bits / 4, "0");
  return form.digits === "HEX" ? hex.toUpperCase() : hex;
}

/** What hex digits say, up to eight of them; undefined where they are none. */
function hexOf(text: string): number | undefined {
  let from = 0;
  let to = text.length;
  while (from < to && text.charCodeAt(from) <= 32) from++;
  while (to > from && text.charCodeAt(to - 1) <= 32) to--;
  if (text.charCodeAt(from) === 48 && (text.charCodeAt(from + 1) | 32) === 120) from += 2;
  if (to === from || to - from > 8) return undefined;
  let value = 0;
  for (let at = from; at < to; at++) {
    const code = text.charCodeAt(at);
    const letter = (code | 32) - 87;
    const digit = code >= 48 && code <= 57 ? code - 48 : letter >= 10 && letter <= 15 ? letter : -1;
    if (digit < 0) return undefined;
    value = value * 16 + digit;
  }
  return value;
}

/** What digits say, whatever their case, width and a “0x” before them; undefined where they are none. */
export function saidCheck(digits: string, form: CheckForm): number | undefined {
  if (form.digits !== "decimal") return hexOf(digits);
  const text = digits.trim();
  return /^\d{1,10}$/.test(text) ? Number(text) : undefined;
}

/** The check of a text. */
export const checkOfText = (text: string, form: CheckForm, encoding: Encoding = "utf-8"): number =>
  checkOf(bytesFor(text, encoding), form);

/** Whether said digits are the check of a text, whatever their case and leading zeros. */
export const checkFits = (said: string, text: string, form: CheckForm, encoding: Encoding = "utf-8"): boolean =>
  saidCheck(said, form) === checkOfText(text, form, encoding);
