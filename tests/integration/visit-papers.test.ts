import { execFile } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtempSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";
import fc from "fast-check";
import { checkPapers, README, readArchive, ROWS, SEALS, VISIT, type SealLine } from "@/core/papers";
import { valueOf } from "@/core/problem";
import type { Entry } from "@/core/job";
import { closeDb } from "@/server/db";
import { fileBackup } from "@/server/repositories/backups";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { putJson } from "@/server/repositories/blobs";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft } from "@/server/repositories/fleet";
import { appendEntry } from "@/server/repositories/journal";
import { orderJob } from "@/server/repositories/jobs";
import { visitPapers } from "@/server/repositories/visit-papers";
import { inTransaction, run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase, giveSlate } from "../support/database";
import { CHIP, imageFile, slateReadout } from "../support/workshop";

/** What stands in it for people. */
const READABLE = {
  "visit.html": new TextEncoder().encode("<p>It flew.</p>"),
  "plan.csv": new TextEncoder().encode("title,before\r\n"),
};

let jobId = 0;
let files: ReadonlyMap<string, Uint8Array>;
let bytes: Uint8Array;

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
  files = valueOf(readArchive(bytes));
}, 120_000);

afterAll(closeDb);

const told = async (changed: ReadonlyMap<string, Uint8Array>) =>
  (await checkPapers(changed)).faults.map(({ kind }) => kind);
const withFile = (name: string, content: Uint8Array | string) =>
  new Map([...files, [name, typeof content === "string" ? new TextEncoder().encode(content) : content]]);
const textOf = (name: string) => new TextDecoder().decode(files.get(name));

describe("case C74: a visit's papers, checked without the database", () => {
  it("hold as they were loaded down, and say what they are of", async () => {
    const report = await checkPapers(files);
    expect(report.faults).toEqual([]);
    expect(report).toMatchObject({
      tag: "QW-01",
      headline: "Update to Heddle 23",
      ended: "finished",
      entries: 7,
      papers: 5,
      readings: 2,
    });
    expect(report.signed).toMatchObject({ by: "Reed Warden", statement: "It flies" });
  });

  it("whatever single byte of rows, seals or papers is another: it is told", async () => {
    const names = [...files.keys()].filter((name) => name !== README && name !== VISIT);
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...names),
        fc.nat(),
        fc.integer({ min: 1, max: 255 }),
        async (name, at, flip) => {
          const content = new Uint8Array(files.get(name) ?? []);
          const place = at % content.length;
          content[place] = (content[place] ?? 0) ^ flip;
          // between lines a blank more or less says nothing
          if (new TextDecoder().decode(content).trim() === textOf(name).trim()) return;
          expect([name, (await told(withFile(name, content))).length > 0]).toEqual([name, true]);
        },
      ),
      { numRuns: 150 },
    );
  });

  it("whatever line or file is taken out, doubled or put in: it is told", async () => {
    for (const name of [ROWS, SEALS]) {
      const lines = textOf(name).trimEnd().split("\n");
      for (let i = 0; i < lines.length; i++) {
        const without = await told(withFile(name, lines.toSpliced(i, 1).join("\n")));
        expect([name, lines[i]?.slice(0, 60), without.length > 0]).toEqual([name, lines[i]?.slice(0, 60), true]);
        const twice = await told(withFile(name, lines.toSpliced(i, 0, lines[i] ?? "").join("\n")));
        expect([name, i, twice.length > 0]).toEqual([name, i, true]);
      }
    }
    for (const name of files.keys()) {
      if (name === README) continue;
      const without = new Map([...files].filter(([each]) => each !== name));
      expect([name, (await told(without)).length > 0]).toEqual([name, true]);
    }
    expect(await told(withFile("papers/more", "x"))).toEqual(["surplus"]);
    expect(await told(withFile("to read/more.html", "x"))).toEqual(["surplus"]);
  });

  it("whoever reckons a seal anew after changing it is told by the one behind it; after the last only by its own", async () => {
    const seals = textOf(SEALS)
      .trimEnd()
      .split("\n")
      .map((line) => JSON.parse(line) as SealLine);
    const other: Readonly<Record<string, (seal: SealLine) => Partial<SealLine>>> = {
      row: () => ({ row: "0".repeat(64) }),
      before: () => ({ before: "f".repeat(64) }),
      at: ({ at }) => ({ at: at.replace(/^2/, "3") }),
      key: ({ key }) => ({ key: `${key}0` }),
      kind: () => ({ kind: "groundings" }),
    };
    const reckoned = (seal: SealLine): SealLine => {
      const { no, kind, key, at, row, before } = seal;
      return {
        ...seal,
        sha256: createHash("sha256").update([before, no, kind, key, at, row].join("\n")).digest("hex"),
      };
    };
    const { last } = JSON.parse(textOf(VISIT)) as { last: number };
    for (const [i, seal] of seals.entries())
      for (const [field, change] of Object.entries(other)) {
        const changed = seals.with(i, reckoned({ ...seal, ...change(seal) }));
        const packed = withFile(SEALS, changed.map((each) => JSON.stringify(each)).join("\n"));
        if (seal.no === last && field === "at") expect((await checkPapers(packed)).seals.sha256).not.toBe(seal.sha256);
        else expect([seal.no, field, (await told(packed)).length > 0]).toEqual([seal.no, field, true]);
      }
    // in another order they are the same chain; with two exchanged in number they are none
    const turned = await told(
      withFile(
        SEALS,
        seals
          .toReversed()
          .map((each) => JSON.stringify(each))
          .join("\n"),
      ),
    );
    expect(turned).toEqual([]);
    const [one, two] = seals;
    if (!one || !two) throw new Error("no seals");
    const exchanged = seals.with(0, reckoned({ ...one, no: two.no })).with(1, reckoned({ ...two, no: one.no }));
    expect(await told(withFile(SEALS, exchanged.map((each) => JSON.stringify(each)).join("\n")))).toContain("chain");
  });

  it("case C91: a signature exchanged under a new seal, a backup taken out, a statement rewritten: told, each", async () => {
    const packedRows = textOf(ROWS).trimEnd().split("\n");
    const seals = textOf(SEALS)
      .trimEnd()
      .split("\n")
      .map((line) => JSON.parse(line) as SealLine);
    const hash = (text: string) => createHash("sha256").update(text).digest("hex");
    for (const [was, now] of [
      ["It flies", "It fell"],
      ["Reed Warden", "Moss Ferry"],
    ] as const) {
      const at = packedRows.findIndex((line) => line.includes(was));
      const row = JSON.parse((packedRows[at] ?? "").replace(was, now)) as { kind: string; key: string; text: string };
      const changed = seals.map((seal) => {
        if (seal.kind !== row.kind || seal.key !== row.key) return seal;
        const { no, kind, key, at: when, before } = seal;
        const sha = hash(row.text);
        return { ...seal, row: sha, sha256: hash([before, no, kind, key, when, sha].join("\n")) };
      });
      const packed = new Map(withFile(ROWS, packedRows.with(at, JSON.stringify(row)).join("\n")));
      packed.set(SEALS, new TextEncoder().encode(changed.map((each) => JSON.stringify(each)).join("\n")));
      expect([now, await told(packed)]).toEqual([now, ["chain"]]);
    }
    const backup = packedRows.findIndex((line) => line.includes('"kind":"backups"'));
    expect((await told(withFile(ROWS, packedRows.toSpliced(backup, 1).join("\n")))).length).toBeGreaterThan(0);
  });

  it("are of the aircraft that was worked on, not of the one whose backup it was set up from", async () => {
    const text = JSON.stringify({ name: "QW-99 Heddle 22", job_id: null, sha256: "0".repeat(64) });
    const foreign = JSON.stringify({ kind: "backups", key: "0", text });
    expect((await checkPapers(withFile(ROWS, `${foreign}\n${textOf(ROWS)}`))).tag).toBe("QW-01");
  });

  it("an entry rewritten together with its own seal does not follow from the chain", async () => {
    const rows = textOf(ROWS).replace("It flies", "It fell");
    expect(await told(withFile(ROWS, rows))).toEqual(["changed"]);
  });

  it("a row that is no JSON any more is told, and the rest is read all the same", async () => {
    for (const mark of ["{", "}", '\\"', ":"]) {
      const lines = textOf(ROWS).split("\n");
      const spoilt = lines.map((line) =>
        line.includes('"kind":"journal"') ? line.replace(`"text":"${mark}`, `"text":"`) : line,
      );
      const odd = lines.map((line) => line.replace(/\}"\}$/, '"}'));
      for (const changed of [spoilt, odd]) {
        const report = await checkPapers(withFile(ROWS, changed.join("\n")));
        if (changed.join("\n") !== textOf(ROWS)) expect(report.faults.map(({ kind }) => kind)).toContain("changed");
      }
    }
  });

  it("what is no archive, or another one, is refused in words", async () => {
    for (const odd of [new Uint8Array(), bytes.subarray(0, bytes.length / 2), new TextEncoder().encode("papers")]) {
      const read = readArchive(odd);
      expect(!read.ok && read.problem.code).toBe("papers-archive");
    }
    expect((await checkPapers(new Map([["a.txt", new Uint8Array([1])]]))).faults.length).toBeGreaterThan(2);
  });

  it("bin/verify reads the file alone: whole, and not", async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-papers-"));
    const verify = (content: Uint8Array) => {
      const file = path.join(folder, "papers.zip");
      writeFileSync(file, content);
      const env = { ...process.env, DATABASE_URL: "postgres://nobody@127.0.0.1:1/none" };
      return promisify(execFile)(path.resolve("bin/verify"), [file], { env }).then(
        ({ stdout }) => stdout,
        (error: unknown) => {
          const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string };
          return `${code} ${stdout}${stderr}`;
        },
      );
    };
    expect(await verify(bytes)).toContain("Whole: QW-01, Update to Heddle 23, signed off by Reed Warden");
    expect(await verify(bytes.subarray(0, 400))).toMatch(/^2 .*no archive of a visit/s);
  }, 60_000);
});
