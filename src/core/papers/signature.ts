import { calculateJwkThumbprint, compactVerify, decodeProtectedHeader, EmbeddedJWK, type JWK } from "jose";
import type { VisitStatement } from "@/core/papers/statement";
import type { Tell } from "@/core/papers/fault";

/** What is signed: the statement of the visit, and the hash of the list of lists, which holds every byte of the archive. */
export interface SignedPapers {
  readonly statement: VisitStatement;
  /** SHA-256 of `tagmanifest-sha256.txt`. */
  readonly files: string;
}

/** The type of these signatures (RFC 7515, 4.1.9). */
export const SIGNED_AS = "fresh-start-visit+jws";

export interface Signed extends Partial<SignedPapers> {
  /** Thumbprint of the key that signed it (RFC 7638); empty where nothing did. */
  readonly key: string;
}

const EMPTY: Signed = { key: "" };
const decoder = new TextDecoder("utf-8", { fatal: true });

/** One form of the same bytes: a compact JWS of three parts, none of which can be written in two ways. */
const isPlain = (jws: string) =>
  /^[\w-]+\.[\w-]+\.[\w-]+$/.test(jws) &&
  jws.split(".").every((part) => {
    const last = part.length % 4;
    const tail = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_".indexOf(part.at(-1) ?? "");
    return last !== 1 && (last !== 2 || tail % 16 === 0) && (last !== 3 || tail % 4 === 0);
  });

/**
 * The signature over the papers: JWS (RFC 7515) in compact form with Ed25519 (RFC 8037), whose key stands in its head. Any
 * program for JWS can check it. Tells what does not hold; gives what was signed, and the key's thumbprint.
 */
export async function checkSignature(content: Uint8Array | undefined, signedHash: string, tell: Tell): Promise<Signed> {
  if (!content) {
    tell("signature", "Nobody signed these papers");
    return EMPTY;
  }
  try {
    const jws = decoder.decode(content);
    const head = decodeProtectedHeader(jws) as { alg?: unknown; typ?: unknown; kid?: unknown; jwk?: JWK };
    const { kty, crv, x, ...more } = head.jwk ?? {};
    const names = Object.keys(head).toSorted().join();
    const key = await calculateJwkThumbprint(head.jwk ?? {}, "sha256");
    if (!isPlain(jws) || names !== "alg,jwk,kid,typ" || head.typ !== SIGNED_AS || head.kid !== key)
      tell("signature", "The head of the signature is not what it should be");
    if (kty !== "OKP" || crv !== "Ed25519" || typeof x !== "string" || Object.keys(more).length > 0)
      tell("signature", "The key of the signature is no key for Ed25519");
    const { payload } = await compactVerify(jws, EmbeddedJWK, { algorithms: ["EdDSA"] });
    const said = JSON.parse(decoder.decode(payload)) as SignedPapers;
    if (said.files !== signedHash) tell("signature", "The signature is over other files than these");
    return { ...said, key };
  } catch {
    tell("signature", "The signature does not hold: it was changed, or what it is over was");
    return EMPTY;
  }
}
