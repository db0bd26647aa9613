import { createPrivateKey, createPublicKey, generateKeyPairSync } from "node:crypto";
import { calculateJwkThumbprint, CompactSign, type JWK } from "jose";
import { SIGNED_AS, type SignedPapers } from "@/core/papers";
import { ProblemError } from "@/core/problem";
import { inTransaction, one, rows, run } from "@/server/sql";

/** A key that signs visits' papers, by its public half (Ed25519, RFC 8032). */
export interface SigningKey {
  readonly name: string;
  /** RFC 7638. */
  readonly thumbprint: string;
  readonly x: string;
  readonly made_by: string;
  readonly made_at: Date;
  readonly reason: string;
}

const COLUMNS = "name, thumbprint, x, made_by, made_at, reason";
/** So that of two processes that start at once one makes the key. */
const MAKES_KEYS = "select pg_advisory_xact_lock(815, 12)";

/** Keys of this workshop, the one that signs now first. */
export const signingKeys = (): Promise<SigningKey[]> => rows(`select ${COLUMNS} from signing_keys order by id desc`);

const jwkOf = (x: string): JWK => ({ kty: "OKP", crv: "Ed25519", x });

/** Makes the key that signs from now on. Papers that earlier ones signed stay what they are: every key stays in the record. */
async function makeKey(by: string, reason: string, wanted: (held: number) => boolean): Promise<void> {
  const { privateKey, publicKey } = generateKeyPairSync("ed25519");
  const { x = "" } = publicKey.export({ format: "jwk" });
  const thumbprint = await calculateJwkThumbprint(jwkOf(x), "sha256");
  await inTransaction(async (transaction) => {
    await run(MAKES_KEYS, [], transaction);
    const held = (await one<{ n: number }>("select count(*)::int as n from signing_keys", [], transaction))?.n ?? 0;
    if (!wanted(held)) return;
    const name = `signing ${held + 1}`;
    const secret = privateKey.export({ format: "pem", type: "pkcs8" });
    await run("insert into secrets (name, value) values ($1, $2)", [name, secret], transaction);
    await run(
      "insert into signing_keys (name, thumbprint, x, made_by, reason) values ($1, $2, $3, $4, $5)",
      [name, thumbprint, x, by, reason],
      transaction,
    );
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
  const key = await one<{ x: string; thumbprint: string; value: string }>(
    "select k.x, k.thumbprint, s.value from signing_keys k join secrets s on s.name = k.name order by k.id desc limit 1",
  );
  if (!key) throw new ProblemError({ code: "key-none", message: "The workshop has no key to sign with" });
  const secret = createPrivateKey(key.value);
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
