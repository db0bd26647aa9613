import { unsealData } from "iron-session";
import { createHash, createHmac } from "node:crypto";
import fc from "fast-check";
import { payToll, type Toll } from "@/core/toll";
import {
  accountNamed,
  addAccount,
  addFirstLead,
  changePassword,
  changeRole,
  resetPassword,
  roleOf,
  setClosed,
  signIn,
  unlock,
} from "@/server/accounts";
import { closeDb } from "@/server/db";
import { sessionSecret } from "@/server/env";
import { beginSession, endSessions, isOpen, openSessions, sessionOf } from "@/server/sessions";
import { signInLog, waitAfter, type From } from "@/server/sign-ins";
import { bitsFor, TollDue } from "@/server/sign-in-toll";
import { rows, run } from "@/server/sql";
import { secretOf } from "@/server/secrets";
import { confirmSecond, endOwnSecond, endSecond, hasSecond, proposeSecond } from "@/server/second-factor";
import { asOwner, codeOf, freshDatabase } from "../support/database";

const GOOD = "reed-heron-lantern-forty";
const from = (address: string, device = ""): From => ({ address, device, browser: "a test" });
const HERE = from("192.0.2.1");
const tried = (name: string, password: string, where = HERE) => codeOf(signIn({ name, password }, where));

beforeAll(() => freshDatabase("people"));
afterAll(closeDb);

describe("accounts", () => {
  it("the first is a lead's, made once, however many ask at the same time", async () => {
    const asked = await Promise.all([1, 2, 3].map((n) => codeOf(addFirstLead(`lead-${n}`, "", GOOD))));
    expect(asked.toSorted()).toEqual(["first-taken", "first-taken", "ok"]);
    const [first] = await rows<{ name: string }>("select name from accounts");
    await run("update accounts set name = 'lead' where name = $1", [first?.name]);
  });

  it.each([
    ["short", "reed-heron"],
    ["a row of keys", "qwertyuiop12"],
    ["known to all", "password12345"],
    ["the name", "heron.heron.heron"],
    ["longer than is taken", "x9".repeat(65)],
  ])("a password that is %s is refused", async (_, password) => {
    expect(await codeOf(addAccount({ name: "heron", person: "", role: "observer" }, password))).toBe("password-weak");
  });

  it("names are given once, and are names", async () => {
    expect(await codeOf(addAccount({ name: "heron", person: "Heron", role: "technician" }, GOOD))).toBe("ok");
    expect(await codeOf(addAccount({ name: "heron", person: "", role: "lead" }))).toBe("account-there");
    for (const name of ["", "H", "a b", "-x", "x".repeat(41), "kind\0"])
      expect(await codeOf(addAccount({ name, person: "", role: "lead" }))).toBe("account-name");
  });

  it("somebody can always lead: the last lead is neither closed nor made less, not even two at once", async () => {
    const { id } = await accountNamed("lead");
    expect(await codeOf(setClosed(id, true, "heron"))).toBe("last-lead");
    expect(await codeOf(changeRole(id, "observer", "heron"))).toBe("last-lead");
    const second = (await addAccount({ name: "bittern", person: "", role: "lead" })).id;
    const both = await Promise.all([
      codeOf(setClosed(id, true, "bittern")),
      codeOf(changeRole(second, "observer", "lead")),
    ]);
    expect(both.toSorted()).toEqual(["last-lead", "ok"]);
    await setClosed(id, false, "bittern");
    await changeRole(second, "lead", "lead");
  });

  it("closed, it opens to nobody and leads nothing, and is still in the record", async () => {
    const { id } = await addAccount({ name: "coot", person: "", role: "lead" }, GOOD);
    const token = await beginSession(id, HERE);
    await setClosed(id, true, "lead");
    expect([await sessionOf(token), await roleOf("coot"), await tried("coot", GOOD)]).toEqual([
      undefined,
      undefined,
      "sign-in-refused",
    ]);
    await expect(run("delete from accounts where name = 'coot'")).rejects.toThrow();
    expect((await accountNamed("coot")).disabled_at).toBeInstanceOf(Date);
  });

  it("a password that a lead gives has to be replaced, and puts out whoever was in", async () => {
    const { id } = await accountNamed("heron");
    const before = await beginSession(id, HERE);
    const given = await resetPassword(id, "lead");
    expect(await sessionOf(before)).toBeUndefined();
    expect(await tried("heron", given)).toBe("ok");
    const [own, other] = [await beginSession(id, HERE), await beginSession(id, HERE)];
    const session = await sessionOf(own);
    expect(session?.account.mustChange).toBe(true);
    expect(await codeOf(changePassword(id, "wrong", `${GOOD}-2`, session?.id ?? "", from("192.0.2.50")))).toBe(
      "password-wrong",
    );
    expect(await codeOf(changePassword(id, given, given, session?.id ?? "", from("192.0.2.50")))).toBe("password-same");
    expect(await codeOf(changePassword(id, given, "heronheron12", session?.id ?? "", from("192.0.2.50")))).toBe(
      "password-weak",
    );
    await changePassword(id, given, `${GOOD}-2`, session?.id ?? "", from("192.0.2.50"));
    expect((await sessionOf(own))?.account.mustChange).toBe(false);
    expect(await sessionOf(other)).toBeUndefined();
  });
});

describe("sessions", () => {
  it("end at sign-out, by idleness, after a day's work, by another role; and tell whoever listens", async () => {
    const { id } = await accountNamed("heron");
    const begin = async () => {
      const token = await beginSession(id, HERE);
      return { token, id: (await sessionOf(token))?.id ?? "" };
    };
    const out = await begin();
    await endSessions({ id: out.id }, "signed out");
    const idle = await begin();
    await run("update sessions set seen_at = now() - interval '31 minutes' where id = $1", [idle.id]);
    const long = await begin();
    await run("update sessions set created_at = now() - interval '13 hours' where id = $1", [long.id]);
    for (const each of [out, idle, long])
      expect([await sessionOf(each.token), await isOpen(each.id)]).toEqual([undefined, false]);
    const role = await begin();
    await changeRole(id, "observer", "lead");
    expect([await sessionOf(role.token), await openSessions(id)]).toEqual([undefined, []]);
    await changeRole(id, "technician", "lead");
  });

  it("only listening is no use of it; a token that nobody was given opens nothing", async () => {
    const token = await beginSession((await accountNamed("heron")).id, HERE);
    const id = (await sessionOf(token))?.id ?? "";
    const seen = async () =>
      (await rows<{ seen_at: Date }>("select seen_at from sessions where id = $1", [id]))[0]?.seen_at;
    await run("update sessions set seen_at = now() - interval '10 minutes' where id = $1", [id]);
    const before = await seen();
    await sessionOf(token, false);
    expect(await seen()).toEqual(before);
    await sessionOf(token);
    expect((await seen())?.getTime()).toBeGreaterThan(before?.getTime() ?? 0);
    for (const each of ["", id, `${token}x`, "\0"]) expect(await sessionOf(each)).toBeUndefined();
  });
});

/** Failures so far are of so many seconds earlier. */
const later = (seconds: number) =>
  asOwner(
    `alter table sign_ins disable trigger sign_ins_stay; update sign_ins set at = at - interval '${seconds} seconds'; alter table sign_ins enable trigger sign_ins_stay`,
  );

/** What an attempt costs from an address: the work, or nothing. */
async function tollOf(name: string, where: From): Promise<Toll | undefined> {
  try {
    await signIn({ name, password: "wrong" }, where);
  } catch (error) {
    return error instanceof TollDue ? error.toll : undefined;
  }
  return undefined;
}

describe("the door", () => {
  it("opens later after each failure, for that name and there; never for longer than 40 s", async () => {
    for (let i = 0; i < 5; i++) expect(await tried("heron", "bad")).toBe("sign-in-refused");
    expect(await tried("heron", `${GOOD}-2`)).toBe("sign-in-throttled");
    expect(await tried("bittern", "bad")).toBe("sign-in-refused");
    expect(await tried("heron", `${GOOD}-2`, from("192.0.2.2"))).toBe("ok");
    // however often it failed: 40 s after the last, whoever knows the password is in
    for (let i = 0; i < 12; i++) {
      await later(41);
      expect(await tried("heron", "bad")).toBe("sign-in-refused");
    }
    await later(30);
    expect(await tried("heron", `${GOOD}-2`)).toBe("sign-in-throttled");
    await later(11);
    expect(await tried("heron", `${GOOD}-2`)).toBe("ok");
    // failures of while the clock was ahead are no wall when it is set right
    for (let i = 0; i < 2; i++) await tried("heron", "bad");
    expect(await tried("heron", `${GOOD}-2`)).toBe("sign-in-throttled");
    await later(-7200);
    expect(await tried("heron", `${GOOD}-2`)).toBe("ok");
    await later(7200 + 3600);
    fc.assert(
      fc.property(fc.nat(10_000), fc.integer({ min: 1, max: 50 }), (failures, free) => {
        const [wait, next] = [waitAfter(failures, free), waitAfter(failures + 1, free)];
        expect([wait >= 0, wait <= 40, next >= wait, wait === 0 || failures >= free]).toEqual([true, true, true, true]);
      }),
    );
  });

  it("a stranger cannot lock anybody out of a browser that they came in by before", async () => {
    const strangers = Array.from({ length: 13 }, (_, i) => from(`198.51.100.${i}`));
    for (const stranger of strangers) for (let i = 0; i < 5; i++) await tried("lead", "guess", stranger);
    expect(await tried("lead", GOOD, from("198.51.100.77"))).toBe("sign-in-throttled");
    expect(await tried("lead", GOOD, from("198.51.100.77", "known-browser"))).toBe("ok");
    // and of any other browser for no longer than 40 s
    await later(41);
    expect(await tried("lead", GOOD, from("198.51.100.78"))).toBe("ok");
    for (const stranger of strangers.slice(0, 3)) await tried("lead", "guess", stranger);
    expect(await tried("lead", GOOD, from("198.51.100.77"))).toBe("sign-in-throttled");
    // whoever keeps the machine opens it for all
    await unlock("lead", "the keeper of the machine");
    expect(await tried("lead", GOOD, from("198.51.100.77"))).toBe("ok");
  });

  it("a flood of made-up names costs whoever makes it work, and shuts out nobody behind the same address", async () => {
    const where = from("203.0.113.9");
    const flood = async (least: number) => {
      for (let i = 0; i < least; i++)
        await run(
          "insert into sign_ins (who, address, browser, outcome) values (md5(random()::text), $1, '', 'refused')",
          [where.address],
        );
    };
    for (let i = 0; i < 20; i++) expect(await tried(`nobody-${i}`, "x", where)).toBe("sign-in-refused");
    const toll = await tollOf("heron", where);
    expect(toll?.bits).toBe(14);
    if (!toll) return;
    const logged = async () => (await signInLog(1000)).length;
    const before = await logged();
    // attempts that were not paid for are not looked at, and fill no log
    for (let i = 0; i < 50; i++) expect(await tried(`other-${i}`, "x", where)).toBe("sign-in-toll");
    expect((await logged()) - before).toBeLessThanOrEqual(1);

    const paid = `${toll.token}.${payToll(toll)}`;
    const come = (name: string, password: string, work: string, place = where) =>
      codeOf(signIn({ name, password, paid: work }, place));
    expect(await come("heron", `${GOOD}-2`, paid)).toBe("ok");
    // for another name, from another place, altered, of less work than it says, or after it failed once: not paid
    await run("insert into sign_ins (who, address, browser, outcome) select who, '203.0.113.99', '', 'refused' from sign_ins where address = $1 and outcome = 'refused'", [where.address]); // prettier-ignore
    const [bits, until, mac] = toll.token.split(".");
    for (const [name, work, place] of [
      ["bittern", paid, where],
      ["heron", paid, from("203.0.113.99")],
      ["heron", "", where],
      ["heron", `${toll.token}.${payToll(toll) + 1}`, where],
      ["heron", `1.${until}.${mac}.${payToll({ token: `1.${until}.${mac}`, bits: 1 })}`, where],
      ["heron", `${bits}.${Number(until) + 9}.${mac}.0`, where],
      ["heron", `${bits}.${until}.${"A".repeat(43)}.0`, where],
    ] as const)
      expect([name, work, await come(name, GOOD, work, place)]).toEqual([name, work, "sign-in-toll"]);
    expect(await come("heron", "bad", paid)).toBe("sign-in-refused");
    expect(await come("heron", `${GOOD}-2`, paid)).toBe("sign-in-toll");

    // the flood grows: so does the work, to an end; whoever does it is in, and a known browser pays nothing
    await flood(640);
    const more = await tollOf("heron", where);
    expect(more?.bits).toBe(19);
    if (more) expect(await come("heron", `${GOOD}-2`, `${more.token}.${payToll(more)}`)).toBe("ok");
    expect(await tried("heron", `${GOOD}-2`, from(where.address, "known-browser-2"))).toBe("ok");
    expect([...Array(100_000).keys()].every((n) => bitsFor(n) <= 20)).toBe(true);
    // work is as long as it says: a number that is not given counts for nothing
    fc.assert(
      fc.property(fc.string(), fc.integer({ min: 0, max: 8 }), (token, few) => {
        const zeros = createHash("sha256")
          .update(`${token}.${payToll({ token, bits: few })}`)
          .digest();
        expect(zeros[0] ?? 255).toBeLessThan(2 ** (8 - few));
      }),
      { numRuns: 50 },
    );
  });

  it("of many attempts at the same moment no more are looked at than one after the other", async () => {
    const all = await Promise.all(Array.from({ length: 40 }, () => tried("bittern", "bad", from("203.0.113.10"))));
    const { n } = (
      await rows<{ n: number }>(
        "select count(*)::int as n from sign_ins where address = '203.0.113.10' and outcome = 'refused'",
      )
    )[0] ?? { n: 0 };
    expect(n).toBeLessThanOrEqual(8);
    expect(all.every((code) => code.startsWith("sign-in-"))).toBe(true);
  });

  it("the log tells who came and who tried, keeps no typed name that might be a password, and is not rewritten", async () => {
    await tried("MySecretPassword!", "x");
    const log = JSON.stringify([await signInLog(5), await rows("select * from sign_ins order by id desc limit 5")]);
    expect(log).not.toMatch(/MySecret/i);
    expect((await signInLog(5000)).some(({ name, outcome }) => name === "lead" && outcome === "in")).toBe(true);
    for (const sql of ["update sign_ins set outcome = 'in'", "delete from sign_ins", "truncate sign_ins"])
      await expect(run(sql)).rejects.toThrow();
    expect(sessionSecret().length).toBeGreaterThan(40);
  });
});

describe("a second factor", () => {
  /** What an authenticator shows (RFC 6238), worked out beside the product's own package. */
  function codeAt(key: string, ms: number): string {
    const bits = Array.from(key)
      .map((letter) => "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".indexOf(letter).toString(2).padStart(5, "0"))
      .join("");
    const bytes = Buffer.from(bits.match(/.{8}/g)?.map((byte) => parseInt(byte, 2)) ?? []);
    const counter = Buffer.alloc(8);
    counter.writeBigUInt64BE(BigInt(Math.floor(ms / 30_000)));
    const digest = createHmac("sha1", bytes).update(counter).digest();
    const at = (digest.at(-1) ?? 0) & 15;
    return String((digest.readUInt32BE(at) & 0x7fffffff) % 1_000_000).padStart(6, "0");
  }

  it("its codes are those of the standard's own examples", () => {
    // RFC 6238, appendix B: the last six of the eight digits
    const key = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ";
    expect([codeAt(key, 59_000), codeAt(key, 1_111_111_109_000)]).toEqual(["287082", "081804"]);
  });

  it("counts once it has worked; is asked for beside the password; each code counts once; a lead takes it away", async () => {
    const { id } = await accountNamed("bittern");
    const password = await resetPassword(id, "lead");
    const where = from("203.0.113.77");
    const now = Date.now();
    const session = (await sessionOf(await beginSession(id, where)))?.id ?? "";
    const { key, seal, picture } = await proposeSecond("bittern");
    expect(picture).toMatch(/^data:image\/png;base64,/);
    expect(await codeOf(confirmSecond(id, seal, "000000", session, now))).toBe("second-wrong");
    expect([await hasSecond(id), await codeOf(signIn({ name: "bittern", password }, where))]).toEqual([false, "ok"]);
    await confirmSecond(id, seal, codeAt(key, now - 30_000), session, now);
    expect(await hasSecond(id)).toBe(true);
    const kept = await rows<{ second_key: string }>("select second_key from accounts where id = $1", [id]);
    expect(kept[0]?.second_key).not.toContain(key);
    // with a key that the workshop's copies hold: a lost key of sessions costs nobody their second factor
    const open = (password: string) => unsealData<{ key?: string }>(kept[0]?.second_key ?? "", { password, ttl: 0 });
    expect([(await open(await secretOf("second factor"))).key, (await open(sessionSecret())).key]).toEqual([
      key,
      undefined,
    ]);
    const come = (code?: string) => codeOf(signIn({ name: "bittern", password, code }, where));
    expect(await come()).toBe("code-wanted");
    expect(await codeOf(signIn({ name: "bittern", password: "wrong", code: codeAt(key, now) }, where))).toBe(
      "sign-in-refused",
    );
    // the one that it was set up with is spent
    expect(await come(codeAt(key, now - 30_000))).toBe("sign-in-refused");
    expect(await come(codeAt(key, now))).toBe("ok");
    expect(await come(codeAt(key, now))).toBe("sign-in-refused");
    expect(await come(codeAt(key, now - 120_000))).toBe("sign-in-refused");
    await endSecond(id, "lead");
    expect(await come()).toBe("ok");
  });

  it("is wanted of those whom the workshop says, until they have one", async () => {
    const [lead, coot] = [await accountNamed("bittern"), await accountNamed("heron")];
    const wanted = async (id: number) =>
      (await sessionOf(await beginSession(id, from("203.0.113.78"))))?.account.mustProve ?? "no session";
    try {
      for (const [who, ...expected] of [
        ["", false, false],
        ["leads", true, false],
        ["everyone", true, true],
      ] as const) {
        process.env.SECOND_FACTOR = who;
        expect([who, await wanted(lead.id), await wanted(coot.id)]).toEqual([who, ...expected]);
      }
      const session = (await sessionOf(await beginSession(coot.id, HERE)))?.id ?? "";
      const { key, seal } = await proposeSecond("heron");
      await confirmSecond(coot.id, seal, codeAt(key, Date.now()), session, Date.now());
      expect(await wanted(coot.id)).toBe(false);
      await endSecond(coot.id, "lead");
      expect(await wanted(coot.id)).toBe(true);
    } finally {
      process.env.SECOND_FACTOR = "";
    }
  });

  it("a session left open is no place to guess the old password, or a code: both are counted at the door", async () => {
    const account = await accountNamed("coot");
    const session = (await sessionOf(await beginSession((await accountNamed("heron")).id, HERE)))?.id ?? "";
    const [there, elsewhere] = [from("203.0.113.88"), from("203.0.113.89")];
    const old = () => codeOf(changePassword(account.id, "guess", `${GOOD}-3`, session, there));
    for (let i = 0; i < 5; i++) expect(await old()).toBe("password-wrong");
    expect(await codeOf(changePassword(account.id, GOOD, `${GOOD}-3`, session, there))).toBe("sign-in-throttled");
    const { key, seal } = await proposeSecond("coot");
    await confirmSecond(account.id, seal, codeAt(key, Date.now()), session, Date.now());
    const guess = () => codeOf(endOwnSecond(account, "000000", session, elsewhere, Date.now()));
    for (let i = 0; i < 5; i++) expect(await guess()).toBe("second-wrong");
    const right = codeAt(key, Date.now() + 30_000);
    expect(await codeOf(endOwnSecond(account, right, session, elsewhere, Date.now()))).toBe("sign-in-throttled");
    expect(await hasSecond(account.id)).toBe(true);
  });
});
