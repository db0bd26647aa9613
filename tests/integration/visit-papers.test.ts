import { execFile, execFileSync } from "node:child_process";
import { createPublicKey, verify } from "node:crypto";
import { mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import fc from "fast-check";
import {
  checkPapers,
  packArchive,
  readArchive,
  type Known,
  type PapersReport,
  type VisitStatement,
} from "@/core/papers";
import { valueOf } from "@/core/problem";
import type { Entry } from "@/core/job";
import { closeDb } from "@/server/db";
import { fileBackup } from "@/server/repositories/backups";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { putJson } from "@/server/repositories/blobs";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft, relabelAircraft } from "@/server/repositories/fleet";
import { appendEntry } from "@/server/repositories/journal";
import { orderJob } from "@/server/repositories/jobs";
import { visitPapers } from "@/server/repositories/visit-papers";
import { replaceSigningKey, signingKeys } from "@/server/signing";
import { inTransaction, run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase, giveSlate } from "../support/database";
import {
  bytesOf,
  otherKey,
  relist,
  resigned,
  rewritten,
  rowsOf,
  sealsOf,
  sha,
  signedOf,
  textOf,
  zipOf,
  type Papers,
} from "../support/forger";
import { CHIP, imageFile, slateReadout } from "../support/workshop";

/** What stands in it for people. */
const READABLE = {
  "visit.html": new TextEncoder().encode("<p>It flew.</p>"),
  "plan.csv": new TextEncoder().encode("title,before\r\n"),
};

let jobId = 0;
let papers: Papers;
let bytes: Uint8Array;
let known: Known;

/** A visit in as few entries as have papers, and another one's in between. */
beforeAll(async () => {
  await freshDatabase("visit_papers");
  const benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map(({ text }) => text),
    "lead",
  );
  await importImage(imageFile("heddle-23", "CSLATE-B"), "lead");
  const aircraftId = await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  await giveSlate("QW-01", CHIP);
  const fence = await takeFence(benchId);
  const board = {
    mark: "ok",
    say: "Answers",
    presence: "console",
    aircraftId,
    chipId: CHIP,
    target: "CSLATE-B",
  } as const;
  await writeLive(benchId, fence, 1, { ...board, family: "Heddle", release: "22" });
  jobId = await orderJob({
    bayNo: 1,
    aircraftId,
    goal: { kind: "update", releaseId: "heddle-23" },
    account: "technician",
  });
  const append = (entry: Entry, account: string | null = null) =>
    appendEntry({ benchId, fence, jobId, bayNo: 1, account, entry });
  await append({ kind: "ordered", headline: "Update to Heddle 23" }, "technician");
  const backup = await fileBackup({
    ...{ raw: slateReadout(), tag: "QW-01", aircraftId, jobId, chipId: CHIP, source: "job", account: "technician" },
    at: "2026-11-24T09:12:00Z",
  });
  await append({ kind: "done", step: "back-up", evidence: "read", data: { backupId: backup.id } });
  // what may change is sealed each time: here twice within the visit
  for (const label of ["South fen", "North fen"]) await relabelAircraft("QW-01", label);
  const paper = (what: string) => inTransaction((transaction) => putJson({ what }, transaction));
  const [planSha, scriptSha] = [await paper("plan"), await paper("script")];
  const [answersSha, proofSha] = [await paper("answers"), await paper("proof")];
  await append({ kind: "done", step: "plan", evidence: "taken", data: { planSha, scriptSha } });
  await append({ kind: "done", step: "restore", evidence: "sent", data: { answersSha } });
  const proved = { readBackId: backup.id, proofSha, proved: "all took", offCount: 0 };
  await append({ kind: "done", step: "prove", evidence: "all took", data: proved });
  await append({ kind: "signed", statement: "It flies", person: "Reed Warden" }, "technician");
  await append({ kind: "finished" });
  await run("update jobs set state = 'finished', ended_at = now() where id = $1", [jobId]);
  ({ bytes } = await visitPapers(jobId, READABLE));
  papers = new Map(valueOf(readArchive(bytes)).files);
  known = { keys: (await signingKeys()).map(({ thumbprint }) => thumbprint) };
}, 120_000);

afterAll(closeDb);

const FOLDER = "QW-01 visit 1";
const look = (files: ReadonlyMap<string, Uint8Array>, by: Known = known): Promise<PapersReport> =>
  checkPapers({ files, asPacked: true }, by);
const told = async (files: ReadonlyMap<string, Uint8Array>, by: Known = known) =>
  (await look(files, by)).faults.map(({ kind }) => kind);
/** What comes of an archive as it is: nothing where it is refused. */
const ofArchive = async (content: Uint8Array, by: Known = known) => {
  const read = readArchive(content);
  return read.ok ? checkPapers(read.value, by) : undefined;
};
const without = (name: string): Papers => new Map([...papers].filter(([each]) => each !== name));
const lastSeal = () => sealsOf(papers).at(-1) ?? { no: 0, sha256: "" };

describe("case C91: a visit's papers, checked without the workshop", () => {
  it("hold as they were loaded down, and say what they are of and whose", async () => {
    const report = await ofArchive(bytes);
    expect(report?.faults).toEqual([]);
    expect(report).toMatchObject({ entries: 7, papers: 5, readings: 2, origin: "key", key: known.keys?.[0] });
    expect(report?.statement).toMatchObject({
      tag: "QW-01",
      headline: "Update to Heddle 23",
      goal: "update",
      ended: "finished",
      signed: { by: "Reed Warden", account: "technician", statement: "It flies" },
    });
    // in itself it is whole as well; whose it is, nobody then says
    expect(await ofArchive(bytes, {})).not.toHaveProperty("origin");
    expect(await ofArchive(bytes, { seals: [lastSeal()] })).toMatchObject({ faults: [], origin: "seal" });
    expect(await told(papers, { seals: [{ no: lastSeal().no, sha256: "0".repeat(64) }] })).toEqual(["chain"]);
  });

  it("programs that know nothing of this one agree: sha256sum on the lists, Ed25519 on the signature", () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-bag-"));
    for (const [name, content] of papers) {
      mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
      writeFileSync(path.join(folder, name), content);
    }
    const lists = ["manifest-sha256.txt", "tagmanifest-sha256.txt"];
    const said = execFileSync("sha256sum", ["--check", "--strict", ...lists], { cwd: folder, encoding: "utf8" });
    expect(said.trim().split("\n")).toHaveLength(papers.size - 2);
    const [head = "", payload = "", signature = ""] = textOf(papers, "signature.jws").split(".");
    const { jwk } = JSON.parse(Buffer.from(head, "base64url").toString()) as { jwk: { kty: string } };
    const key = createPublicKey({ key: jwk, format: "jwk" });
    expect(verify(null, Buffer.from(`${head}.${payload}`), key, Buffer.from(signature, "base64url"))).toBe(true);
    expect(signedOf(papers).files).toBe(sha(papers.get("tagmanifest-sha256.txt") ?? ""));
  });

  it("whatever single byte of the archive is another: it is told, or is no archive", async () => {
    await fc.assert(
      fc.asyncProperty(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), async (at, flip) => {
        const content = new Uint8Array(bytes);
        content[at] = (content[at] ?? 0) ^ flip;
        const report = await ofArchive(content);
        expect([at, report === undefined || report.faults.length > 0]).toEqual([at, true]);
      }),
      { numRuns: Number(process.env.SOAK ?? 300) },
    );
  });

  it("whatever is taken out, put in, doubled or exchanged: it is told, whoever makes the lists anew", async () => {
    const names = [...papers.keys()];
    for (const name of names) {
      expect([name, (await told(without(name))).length > 0]).toEqual([name, true]);
      // who makes a list anew that was taken out has changed nothing
      if (!name.includes("manifest"))
        expect([name, (await told(relist(without(name)))).length > 0]).toEqual([name, true]);
      for (const other of names.filter((each) => each !== name)) {
        const exchanged = new Map(papers)
          .set(name, papers.get(other) ?? new Uint8Array())
          .set(other, papers.get(name) ?? new Uint8Array());
        if (!name.includes("manifest") && !other.includes("manifest"))
          expect([name, other, (await told(relist(exchanged))).length > 0]).toEqual([name, other, true]);
      }
    }
    for (const more of ["data/papers/more", "data/to read/more.html", "more.txt", "data/more", "__proto__"]) {
      expect(await told(new Map(papers).set(more, bytesOf("x")))).toContain("surplus");
      expect([more, (await told(relist(new Map(papers).set(more, bytesOf("x"))))).length > 0]).toEqual([more, true]);
    }
  });

  it("what stands in the archive beside its files is told: doubled names, folders with content, bytes behind it", async () => {
    const tail = (extra: Uint8Array) => Uint8Array.from([...bytes, ...extra]);
    const rest = [...papers].map(([name, content]) => [`${FOLDER}/${name}`, content] as const);
    const zipped = (more: readonly (readonly [string, Uint8Array])[]) => zipOf([...rest, ...more]);
    for (const [what, odd] of [
      ["behind it", tail(bytesOf("more"))],
      ["an entry twice", zipped([[`${FOLDER}/bagit.txt`, bytesOf("x")]])],
      ["an entry twice, alike", zipped([[`${FOLDER}/bagit.txt`, papers.get("bagit.txt") ?? new Uint8Array()]])],
      ["__proto__", zipped([["__proto__", bytesOf("x")]])],
      ["a folder with content", zipped([[`${FOLDER}/data/`, bytesOf("x")]])],
      ["beside the folder", zipped([["other/file.txt", bytesOf("x")]])],
    ] as const) {
      const report = await ofArchive(odd);
      expect([what, report === undefined || report.faults.length > 0]).toEqual([what, true]);
    }
    // and the tool that made these does make a whole one
    expect((await ofArchive(packArchive(FOLDER, papers)))?.faults).toEqual([]);
  });

  it("what is no archive is refused in words", () => {
    for (const odd of [new Uint8Array(), bytes.subarray(0, bytes.length / 2), bytesOf("papers")]) {
      const read = readArchive(odd);
      expect(!read.ok && read.problem.code).toBe("papers-archive");
    }
  });
});

/** A forger's thoughts: rows and seals changed, everything that follows from them without a key reckoned anew. */
const FORGERIES: Readonly<Record<string, (files: Papers) => Papers>> = {
  "another person's signature": (files) => swap(files, "Reed Warden", "Moss Ferry"),
  "another statement": (files) => swap(files, "It flies", "It fell"),
  "signed entry taken out": (files) => drop(files, ({ text }) => text.includes("Reed Warden")),
  "stopped, not finished": (files) =>
    rewritten(
      files,
      rowsOf(files).map((row) =>
        row.kind === "jobs-ended" ? { ...row, text: row.text.replace('"finished"', '"stopped"') } : row,
      ),
      sealsOf(files),
    ),
  "an invented backup": (files) => {
    const backup = rowsOf(files).find(({ kind }) => kind === "backups");
    const row = { kind: "backups", key: "99", text: backup?.text.replace(/"id": \d+/, '"id": 99') ?? "" };
    const [last] = sealsOf(files).slice(-1);
    const seal = last && { ...last, kind: "backups", key: "99" };
    return rewritten(files, [...rowsOf(files), row], [...sealsOf(files), ...(seal ? [seal] : [])]);
  },
  "a backup's row taken out": (files) => drop(files, ({ kind }) => kind === "backups"),
  "a paper exchanged": (files) => {
    const [name = "", content = new Uint8Array()] = [...files].find(([each]) => each.startsWith("data/papers/")) ?? [];
    const other = bytesOf(new TextDecoder().decode(content).replace(/.$/s, "!"));
    const next = new Map([...files].filter(([each]) => each !== name)).set(`data/papers/${sha(other)}`, other);
    const from = name.slice("data/papers/".length);
    return rewritten(
      next,
      rowsOf(files).map((row) => ({ ...row, text: row.text.replaceAll(from, sha(other)) })),
      sealsOf(files),
    );
  },
  "the tail cut by three seals": (files) => {
    const cut = sealsOf(files).slice(-3);
    const gone = new Set(cut.map(({ kind, key }) => `${kind} ${key}`));
    return rewritten(
      files,
      rowsOf(files).filter(({ kind, key }) => !gone.has(`${kind} ${key}`)),
      sealsOf(files).slice(0, -3),
    );
  },
  "an entry told twice": (files) => {
    const [entry] = rowsOf(files).filter(({ kind }) => kind === "journal");
    return entry ? rewritten(files, [...rowsOf(files), entry], sealsOf(files)) : files;
  },
  "times set back": (files) =>
    rewritten(
      files,
      rowsOf(files),
      sealsOf(files).map((seal) => ({ ...seal, at: seal.at.replace(/^20\d\d/, "2019") })),
    ),
  "what is to be read": (files) =>
    relist(new Map(files).set("data/to read/visit.html", bytesOf("<p>It did not fly.</p>"))),
  "the explanation": (files) => relist(new Map(files).set("data/READ ME.txt", bytesOf("All is well."))),
  "the bag's own words": (files) =>
    relist(new Map(files).set("bag-info.txt", bytesOf("External-Description: QW-02\n"))),
};

function swap(files: Papers, was: string, now: string): Papers {
  return rewritten(
    files,
    rowsOf(files).map((row) => ({ ...row, text: row.text.replaceAll(was, now) })),
    sealsOf(files),
  );
}

function drop(files: Papers, which: (row: ReturnType<typeof rowsOf>[number]) => boolean): Papers {
  const gone = new Set(
    rowsOf(files)
      .filter(which)
      .map(({ kind, key }) => `${kind} ${key}`),
  );
  return rewritten(
    files,
    rowsOf(files).filter(({ kind, key }) => !gone.has(`${kind} ${key}`)),
    sealsOf(files).filter(({ kind, key }) => !gone.has(`${kind} ${key}`)),
  );
}

describe("case C91: forgeries that reckon anew all that can be reckoned without the key", () => {
  it.each(Object.entries(FORGERIES))("%s", async (_what, forge) => {
    const forged = forge(papers);
    // with the workshop's signature left in place, without one, and under a key of the forger's own
    expect(await told(forged)).toContain("signature");
    const unsigned = new Map([...forged].filter(([name]) => name !== "signature.jws"));
    expect(await told(unsigned)).toContain("signature");
    const own = await otherKey();
    expect(await told(await resigned(forged, own))).toContain("signature");
    // by whoever has no key and no seal at hand, it is at least never said to be the workshop's
    expect((await look(await resigned(forged, own), {})).origin).toBeUndefined();
  });

  it("any leaf of any row written otherwise, everything behind it reckoned anew", async () => {
    const rows = rowsOf(papers);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(rows.length - 1),
        fc.nat(),
        fc.string({ minLength: 1, maxLength: 4 }),
        async (at, where, put) => {
          const row = rows[at];
          if (!row) return;
          const place = where % row.text.length;
          const text = row.text.slice(0, place) + put + row.text.slice(place + 1);
          if (text === row.text) return;
          const forged = rewritten(papers, rows.with(at, { ...row, text }), sealsOf(papers));
          expect(await told(forged)).toContain("signature");
          const seal = { no: lastSeal().no, sha256: lastSeal().sha256 };
          expect((await look(forged, { seals: [seal] })).faults.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 120 },
    );
  });

  it("a seal that somebody wrote down tells a whole chain that was made anew and signed by another key", async () => {
    const forged = await resigned(FORGERIES["another statement"]?.(papers) ?? papers, await otherKey());
    const at = lastSeal();
    expect(await told(forged, { seals: [{ no: at.no, sha256: at.sha256 }] })).toContain("chain");
  });

  it("whoever signs with a key of their own is held against what the rows say: a statement alone makes no papers", async () => {
    const { statement } = signedOf(papers);
    const own = await otherKey();
    const lies: readonly Partial<VisitStatement>[] = [
      { ended: "stopped" },
      { ended: "open" },
      { headline: "Revive on Heddle 23" },
      { goal: "revive" },
      { job: statement.job + 1 },
      { signed: { by: "Moss Ferry", account: "lead", at: "2026-11-24T10:00:00Z", statement: "It flies" } },
      { rows: statement.rows.slice(1) },
      { rows: [...statement.rows, "backups 99"] },
      { first: { ...statement.first, no: statement.first.no + 1 } },
      { last: { ...statement.last, sha256: "0".repeat(64) } },
      { source: { key: "99", row: "0".repeat(64) } },
    ];
    for (const lie of lies) {
      const forged = await resigned(papers, own, { ...statement, ...lie });
      expect([lie, (await look(forged, {})).faults.length > 0]).toEqual([lie, true]);
    }
  });
});

describe("the key that signs", () => {
  it("is replaced by name: new papers carry the new one, earlier papers stay the workshop's", async () => {
    await replaceSigningKey("lead", "The old machine was sold");
    const keys = await signingKeys();
    expect(keys.map(({ made_by: by, reason }) => [by, reason])).toEqual([
      ["lead", "The old machine was sold"],
      ["workshop", ""],
    ]);
    const by = { keys: keys.map(({ thumbprint }) => thumbprint) };
    const after = await ofArchive((await visitPapers(jobId, READABLE)).bytes, by);
    expect(after).toMatchObject({ faults: [], origin: "key", key: keys[0]?.thumbprint });
    expect(await ofArchive(bytes, by)).toMatchObject({ faults: [], origin: "key", key: keys[1]?.thumbprint });
    await expect(run("update signing_keys set made_by = 'nobody'")).rejects.toThrow();
    await expect(run("delete from secrets")).rejects.toThrow();
  });

  it("the same visit gives the same archive, byte for byte, but for its signature", async () => {
    const [one, two] = [await visitPapers(jobId, READABLE), await visitPapers(jobId, READABLE)];
    expect(Buffer.from(one.bytes).equals(Buffer.from(two.bytes))).toBe(true);
  });
});

it("bin/verify reads the file alone: whose it is, whole in itself, and not whole", async () => {
  const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-papers-"));
  const verifyFile = (content: Uint8Array, ...options: string[]) => {
    const file = path.join(folder, "papers.zip");
    writeFileSync(file, content);
    const env = {
      ...process.env,
      DATABASE_URL: "",
      FRESH_START_DATA: path.join(folder, "no-workshop"),
    };
    return promisify(execFile)(path.resolve("bin/verify"), [file, ...options], { env }).then(
      ({ stdout }) => `0 ${stdout}`,
      (error: unknown) => {
        const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string };
        return `${code} ${stdout}${stderr}`;
      },
    );
  };
  const [key = ""] = known.keys ?? [];
  expect(await verifyFile(bytes)).toMatch(
    /^3 Whole: QW-01, Update to Heddle 23, signed off by Reed Warden .*was held against nothing/,
  );
  expect(await verifyFile(bytes, "--key", key)).toMatch(/^0 Whole: .*Signed with the workshop’s key/);
  expect(await verifyFile(bytes, "--seal", `${lastSeal().no}:${lastSeal().sha256}`)).toMatch(/^0 Whole: /);
  // one name of a key in 64 begins with a dash
  for (const other of [(await otherKey()).thumbprint, `-${"A".repeat(42)}`])
    expect(await verifyFile(bytes, "--key", other)).toMatch(/^1 papers: The key that signed them/);
  expect(await verifyFile(bytes, "--key", `-${"A".repeat(42)}`, "--key", key)).toMatch(/^0 Whole: /);
  const changed = FORGERIES["another statement"]?.(papers) ?? papers;
  expect(await verifyFile(packArchive(FOLDER, changed))).toMatch(/^1 papers: /);
  expect(await verifyFile(bytes, "--seal", "12")).toMatch(/^2 “12” is no seal/);
}, 120_000);
