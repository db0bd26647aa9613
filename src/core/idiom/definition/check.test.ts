import fc from "fast-check";
import { CHECK_KINDS, checkDigits, checkForm, checkOf, isStrong, type CheckKind } from "@/core/idiom/definition/check";

const DIGITS = new TextEncoder().encode("123456789");

/** The catalogue's own check values: each algorithm over the digits from 1 to 9. */
const CATALOGUED: readonly (readonly [string, CheckKind, number])[] = [
  ["CRC-8/SMBUS", { crc: 8, poly: 0x07 }, 0xf4],
  ["CRC-8/MAXIM-DOW", { crc: 8, poly: 0x31, reflected: true }, 0xa1],
  ["CRC-8/I-432-1", { crc: 8, poly: 0x07, xor: 0x55 }, 0xa1],
  ["CRC-8/WCDMA", { crc: 8, poly: 0x9b, reflected: true }, 0x25],
  ["CRC-8/SAE-J1850", { crc: 8, poly: 0x1d, init: 0xff, xor: 0xff }, 0x4b],
  ["CRC-16/XMODEM", { crc: 16, poly: 0x1021 }, 0x31c3],
  ["CRC-16/IBM-SDLC", { crc: 16, poly: 0x1021, init: 0xffff, reflected: true, xor: 0xffff }, 0x906e],
  ["CRC-16/DNP", { crc: 16, poly: 0x3d65, reflected: true, xor: 0xffff }, 0xea82],
  ["CRC-16/MODBUS", { crc: 16, poly: 0x8005, init: 0xffff, reflected: true }, 0x4b37],
  ["CRC-16 with a beginning of its own", { crc: 16, poly: 0x1021, init: 0xb2aa, reflected: true }, 0x63d0],
  ["CRC-24/OPENPGP", { crc: 24, poly: 0x864cfb, init: 0xb704ce }, 0x21cf02],
  ["CRC-32/ISO-HDLC", { crc: 32, poly: 0x04c11db7, init: 0xffffffff, reflected: true, xor: 0xffffffff }, 0xcbf43926],
  ["CRC-32/BZIP2", { crc: 32, poly: 0x04c11db7, init: 0xffffffff, xor: 0xffffffff }, 0xfc891918],
  ["CRC-32/ISCSI", { crc: 32, poly: 0x1edc6f41, init: 0xffffffff, reflected: true, xor: 0xffffffff }, 0xe3069283],
  ["CRC-32/MPEG-2", { crc: 32, poly: 0x04c11db7, init: 0xffffffff }, 0x0376e6e7],
];

/** Kinds that have a name here, by their parameters. */
const SAME: readonly (readonly [CheckKind, CheckKind])[] = [
  ["crc8", { crc: 8, poly: 0x07 }],
  ["crc8-1wire", { crc: 8, poly: 0x31, reflected: true }],
  ["crc16", { crc: 16, poly: 0x1021 }],
  ["crc16-arc", { crc: 16, poly: 0x8005, reflected: true }],
  ["crc16-ccitt", { crc: 16, poly: 0x1021, init: 0xffff }],
  ["crc16-kermit", { crc: 16, poly: 0x1021, reflected: true }],
  ["crc16-modbus", { crc: 16, poly: 0x8005, init: 0xffff, reflected: true }],
  ["crc24", { crc: 24, poly: 0x864cfb, init: 0xb704ce }],
  ["crc32", { crc: 32, poly: 0x04c11db7, init: 0xffffffff, reflected: true, xor: 0xffffffff }],
  ["crc32-mpeg2", { crc: 32, poly: 0x04c11db7, init: 0xffffffff }],
];

describe("checks by their parameters", () => {
  it.each(CATALOGUED)("%s", (_, kind, value) => {
    expect(checkOf(DIGITS, checkForm(kind)).toString(16)).toBe(value.toString(16));
  });

  it("are over any bytes what the kinds that have a name are", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        for (const [name, kind] of SAME)
          expect([name, checkOf(bytes, checkForm(kind))]).toEqual([name, checkOf(bytes, checkForm(name))]);
      }),
      { numRuns: 60 },
    );
  });

  it("a sum and its complement are nothing together: all ones, or none", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.constantFrom<8 | 16 | 32>(8, 16, 32), (bytes, sum) => {
        const plain = checkOf(bytes, checkForm(`sum${sum}`));
        const most = 2 ** sum;
        expect((plain + checkOf(bytes, checkForm({ sum, complement: "two" }))) % most).toBe(0);
        expect(plain + checkOf(bytes, checkForm({ sum, complement: "one" }))).toBe(most - 1);
      }),
    );
  });

  it("are written as wide as they are, and what is narrow is weak", () => {
    expect(checkDigits("", checkForm({ crc: 16, poly: 0x3d65 }))).toBe("0000");
    expect(checkDigits("", checkForm({ kind: { crc: 24, poly: 0x864cfb, init: 0xb704ce }, digits: "HEX" }))).toBe(
      "B704CE",
    );
    expect(isStrong(checkForm({ crc: 8, poly: 0x9b }))).toBe(false);
    expect(isStrong(checkForm({ crc: 16, poly: 0x3d65 }))).toBe(true);
    expect(isStrong(checkForm({ sum: 32, complement: "two" }))).toBe(false);
    expect(CHECK_KINDS.length).toBeGreaterThan(10);
  });
});
