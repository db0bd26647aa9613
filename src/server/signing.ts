import { createPrivateKey, createPublicKey, generateKeyPairSync } from "node:crypto";
import { calculateJwkThumbprint, CompactSign, type JWK } from "jose";
import { SIGNED_AS, type SignedPapers } from "@/core/papers";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import type { SigningKey as SigningKeyRow } from "@/server/models";
import { first, inTransaction, list, oneAtATime, type Row } from "@/server/sql";

export type SigningKey = Row<SigningKeyRow>;

const NEWEST_FIRST: [string, string][] = [["id", "desc"]];

/** Keys of this workshop, the one that signs now first. */
export const signingKeys = (): Promise<SigningKey[]> => list(getDb().SigningKey, { order: NEWEST_FIRST });

const jwkOf = (x: string): JWK => ({ kty: "OKP", crv: "Ed25519", x });

/** Makes the key that signs from now on. Papers that earlier ones signed stay what they are: every key stays in the record. */
async function makeKey(by: string, reason: string, wanted: (held: number) => boolean): Promise<void> {
  const { privateKey, publicKey } = generateKeyPairSync("ed25519");
  const { x = "" } = publicKey.export({ format: "jwk" });
  const thumbprint = await calculateJwkThumbprint(jwkOf(x), "sha256");
  await inTransaction(async (transaction) => {
    // of two processes that start at once one makes the key
    await oneAtATime("signing keys", transaction);
    const { Secret, SigningKey } = getDb();
    const held = await SigningKey.count({ transaction });
    if (!wanted(held)) return;
    const name = `signing ${held + 1}`;
    const secret = privateKey.export({ format: "pem", type: "pkcs8" });
    await Secret.create({ name, value: String(secret) }, { transaction });
    await SigningKey.create({ name, thumbprint, x, made_by: by, reason }, { transaction });
  });
}

/** At the first start. */
export const ensureSigningKey = (): Promise<void> => makeKey("workshop", "", (held) => held === 0);

/** Another key signs from now on, by somebody's name and for a reason. */
export const replaceSigningKey = (account: string, reason: string): Promise<void> =>
  makeKey(account, reason, () => true);

/** Signs papers with the workshop's key, as a compact JWS (RFC 7515) whose head holds the public half. */
export async function signPapers(papers: SignedPapers): Promise<string> {
  await ensureSigningKey();
  const key = await first(getDb().SigningKey, { include: ["secret"], order: NEWEST_FIRST });
  if (!key?.secret) throw new ProblemError({ code: "key-none", message: "The workshop has no key to sign with" });
  const secret = createPrivateKey(key.secret.value);
  const own = createPublicKey(secret).export({ format: "jwk" });
  if (own.x !== key.x)
    throw new ProblemError({
      code: "key-other",
      message: "The workshop’s key is not the one that its record names",
      hint: "A lead replaces it under Copies and the record",
    });
  return new CompactSign(new TextEncoder().encode(JSON.stringify(papers)))
    .setProtectedHeader({ alg: "EdDSA", typ: SIGNED_AS, kid: key.thumbprint, jwk: jwkOf(key.x) })
    .sign(secret);
}
