import { sha256 } from "@noble/hashes/sha2.js";

/**
 * Work that is done before something is looked at, so that asking very often costs whoever asks. `token`: what it is for, as
 * the server gave it; `bits`: twice the work for each more.
 */
export interface Toll {
  readonly token: string;
  readonly bits: number;
}

const encoder = new TextEncoder();

/** Leading zero bits of the hash of a token with a number behind it. */
function zeroBits(token: string, number: number): number {
  const hash = sha256(encoder.encode(`${token}.${number}`));
  const at = hash.findIndex((byte) => byte !== 0);
  return at < 0 ? hash.length * 8 : at * 8 + Math.clz32(hash[at] ?? 0) - 24;
}

export const isTollPaid = ({ token, bits }: Toll, number: number): boolean => zeroBits(token, number) >= bits;

/** A number whose hash with the token begins with so many zero bits: found by trying, 2^bits of them on average. */
export function payToll(toll: Toll): number {
  let number = 0;
  while (!isTollPaid(toll, number)) number += 1;
  return number;
}
