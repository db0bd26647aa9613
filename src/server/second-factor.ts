import { sealData, unsealData } from "iron-session";
import { Secret, TOTP } from "otpauth";
import QRCode from "qrcode";
import { ProblemError } from "@/core/problem";
import { sessionSecret } from "@/server/env";
import { secretOf } from "@/server/secrets";
import { endSessions } from "@/server/sessions";
import { knowsSecret, type From } from "@/server/sign-ins";
import { Op, type Transaction } from "sequelize";
import { getDb } from "@/server/db";
import { exists, first } from "@/server/sql";

/** Codes of six digits that change every 30 seconds (RFC 6238), as every authenticator makes them. */
const FORM = { algorithm: "SHA1", digits: 6, period: 30 } as const;
/** A clock may be off by so many steps, either way (RFC 6238, 5.2). */
const WINDOW = 1;
const KEY_BYTES = 20;
/** From being shown to being confirmed. */
const PROPOSAL_S = 900;

/** Sealed with a key of their own, which is in the workshop's copies: a lost key of sessions costs nobody their second factor. */
const ownKey = (transaction?: Transaction) => secretOf("second factor", transaction);

const sealed = async (key: string, ttl: number): Promise<string> =>
  sealData({ key }, { password: await ownKey(), ttl });

async function opened(seal: string, ttl: number, transaction?: Transaction): Promise<string | undefined> {
  // those of before there was such a key were sealed with the one of sessions
  for (const password of [await ownKey(transaction), sessionSecret()]) {
    // eslint-disable-next-line no-restricted-syntax -- it computes, and waits for nobody
    const { key } = await unsealData<{ key?: string }>(seal, { password, ttl });
    if (key !== undefined) return key;
  }
  return undefined;
}

const codesOf = (key: string, label = "") =>
  new TOTP({ ...FORM, issuer: "Fresh Start", label, secret: Secret.fromBase32(key) });

/** The step that a code is of; undefined when it is of none about now. */
function stepOf(key: string, code: string, now: number): number | undefined {
  const delta = codesOf(key).validate({ token: code.replaceAll(" ", ""), timestamp: now, window: WINDOW });
  return delta === null ? undefined : Math.floor(now / 1000 / FORM.period) + delta;
}

export interface SecondProposal {
  /** As it is typed where no camera is. */
  readonly key: string;
  /** A picture of it, as an image's address. */
  readonly picture: string;
  /** Comes back with the first code, so that nothing is kept before it works. */
  readonly seal: string;
}

/** A new key, shown to whoever asks; it counts when the first code of it has come back. */
export async function proposeSecond(name: string): Promise<SecondProposal> {
  const key = new Secret({ size: KEY_BYTES }).base32;
  const picture = await QRCode.toDataURL(codesOf(key, name).toString(), { margin: 1, width: 220 });
  return { key, picture, seal: await sealed(key, PROPOSAL_S) };
}

const wrongCode = () =>
  new ProblemError({
    code: "second-wrong",
    message: "That is no code of now",
    hint: "Take the one that is shown this moment, and look whether both clocks are right; each code counts once",
  });

/** Takes a key into use; all other sessions of the account end. */
export async function confirmSecond(
  id: number,
  seal: string,
  code: string,
  session: string,
  now: number,
): Promise<void> {
  const key = await opened(seal, PROPOSAL_S);
  if (key === undefined)
    throw new ProblemError({
      code: "second-late",
      message: "This key was shown too long ago",
      hint: "Begin once more",
    });
  const step = stepOf(key, code, now);
  if (step === undefined) throw wrongCode();
  const second_key = await sealed(key, 0);
  await getDb().Account.update({ second_key, second_step: String(step) }, { where: { id } });
  await endSessions({ accountId: id, but: session }, "a second factor was set up");
}

/** Asks for no code any more. */
export async function endSecond(id: number, by: string, session?: string): Promise<void> {
  await getDb().Account.update({ second_key: null, second_step: null }, { where: { id } });
  await endSessions({ accountId: id, but: session }, `${by} took the second factor away`);
}

export const hasSecond = (id: number): Promise<boolean> =>
  exists(getDb().Account, { id, second_key: { [Op.ne]: null } });

/**
 * Whether a code opens the account, if one is wanted: `none`: it needs none; `wanted`: none was given. A code counts once: its
 * step is written down in the same breath.
 */
export async function trySecond(
  id: number,
  code: string | undefined,
  now: number,
  transaction?: Transaction,
): Promise<"none" | "wanted" | "wrong" | "right"> {
  const { Account } = getDb();
  const kept = await first(Account, { where: { id }, attributes: ["second_key"], transaction });
  if (!kept?.second_key) return "none";
  if (code === undefined || code === "") return "wanted";
  const key = await opened(kept.second_key, 0, transaction);
  const step = key === undefined ? undefined : stepOf(key, code, now);
  if (step === undefined) return "wrong";
  const later = { [Op.or]: [{ second_step: null }, { second_step: { [Op.lt]: String(step) } }] };
  const [used] = await Account.update(
    { second_step: String(step) },
    { where: { id, ...later }, ...(transaction ? { transaction } : {}) },
  );
  return used > 0 ? "right" : "wrong";
}

/** Takes one's own away, with a code of it. */
export async function endOwnSecond(
  account: { readonly id: number; readonly name: string },
  code: string,
  session: string,
  from: From,
  now: number,
): Promise<void> {
  const { id } = account;
  const right = await knowsSecret(
    account,
    from,
    "a wrong code, to take the second factor away",
    () => Promise.resolve(code),
    async (given, transaction) => (await trySecond(id, given, now, transaction)) === "right",
  );
  if (!right) throw wrongCode();
  await endSecond(id, "they themselves", session);
}
