import { crc32, deflateRawSync } from "node:zlib";
import { zipSync } from "fflate";
import { closeReaders, readOutside } from "@/server/outside/pool";
import { ProblemError } from "@/core/problem";
import { closeDb } from "@/server/db";
import { importDocuments } from "@/server/repositories/catalogue";
import { entriesOf } from "@/server/repositories/intake";
import { one } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { codeOf, freshDatabase } from "../support/database";
import { slateReadout } from "../support/workshop";

const bytes = (text: string) => new TextEncoder().encode(text);

beforeAll(async () => {
  await freshDatabase("hostile");
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
});
afterAll(async () => {
  closeReaders();
  await closeDb();
});

interface Part {
  readonly name: string;
  readonly raw: Uint8Array;
  readonly size?: number;
  readonly check?: number;
}
/** An archive put together by hand (APPNOTE.TXT, 4.3), so that it can say what is not so. `streamed`: sizes follow the bytes. */
function archive(parts: readonly Part[], streamed = false): Uint8Array {
  const local: Buffer[] = [];
  const directory: Buffer[] = [];
  let at = 0;
  for (const { name, raw, size = raw.length, check = crc32(raw) } of parts) {
    const packed = deflateRawSync(raw);
    const fields = (known: boolean) => {
      const head = Buffer.alloc(26);
      head.writeUInt16LE(20, 0);
      head.writeUInt16LE(streamed ? 8 : 0, 2);
      head.writeUInt16LE(8, 4);
      head.writeUInt32LE(known ? check : 0, 10);
      head.writeUInt32LE(known ? packed.length : 0, 14);
      head.writeUInt32LE(known ? size : 0, 18);
      head.writeUInt16LE(name.length, 22);
      return head;
    };
    const own = Buffer.concat([Buffer.from("PK\x03\x04", "latin1"), fields(!streamed), Buffer.from(name), packed]);
    const rest = Buffer.alloc(14);
    rest.writeUInt32LE(at, 10);
    directory.push(Buffer.from("PK\x01\x02\x14\x00", "latin1"), fields(true), rest, Buffer.from(name));
    local.push(own);
    at += own.length;
  }
  const listed = Buffer.concat(directory);
  const end = Buffer.alloc(22);
  end.write("PK\x05\x06", "latin1");
  end.writeUInt16LE(parts.length, 8);
  end.writeUInt16LE(parts.length, 10);
  end.writeUInt32LE(listed.length, 12);
  end.writeUInt32LE(at, 16);
  return new Uint8Array(Buffer.concat([...local, listed, end]));
}

describe("archives that lie", () => {
  const text = bytes("a read-out\n".repeat(50));
  it("a genuine one is opened, also one whose sizes stand in its directory only", async () => {
    for (const streamed of [false, true])
      expect((await entriesOf(archive([{ name: "a.txt", raw: text }], streamed), "a.zip"))[0]?.bytes).toEqual(text);
  });

  it.each([
    ["says less than comes out", { name: "a.txt", raw: new Uint8Array(50_000_000), size: 10 }],
    ["says nothing", { name: "a.txt", raw: new Uint8Array(50_000_000), size: 0 }],
    ["says more than comes out", { name: "a.txt", raw: text, size: 4000 }],
    ["has a check that does not fit", { name: "a.txt", raw: text, check: 1 }],
    ["leads out of its folder", { name: "../../a.txt", raw: text }],
  ])("one that %s is refused, in little time and memory", async (_, part) => {
    const before = process.memoryUsage().rss;
    const began = Date.now();
    expect(await codeOf(entriesOf(archive([part]), "a.zip"))).toBe("archive-refused");
    expect(Date.now() - began).toBeLessThan(3_000);
    expect(process.memoryUsage().rss - before).toBeLessThan(200_000_000);
  });
});

describe("what somebody brings", () => {
  /** Of work, not of the clock. */
  const SOON = { ms: 12_000, bytes: 700_000_000 };
  const learn = (text: string) =>
    readOutside("learn", { raw: bytes(text), idiom: undefined, about: {}, keep: false, account: "lead" }, SOON);
  const many = (n: number, line: (i: number) => string) => Array.from({ length: n }, (_, i) => line(i)).join("\n");

  it("is read as it always was, in a process of its own", async () => {
    const entries = await readOutside("inspect", { raw: slateReadout("all"), name: "one.txt" });
    expect(entries).toMatchObject([{ proposal: { release: "Heddle 22", verdict: "complete" } }]);
    expect((await readOutside("inspect", { raw: zipSync({ "a.txt": slateReadout("all") }), name: "z" })).length).toBe(
      1,
    );
  });

  /** Of a file that was looked at: the code of what is wrong with it. */
  const codeIn = (entry: { problem?: { code: string } } | undefined): Promise<never> => {
    throw new ProblemError({ message: "", code: "none", ...entry?.problem });
  };

  /** Each of these once froze the web for minutes, or took gigabytes. */
  const FREEZES: readonly [string, () => Promise<unknown>, string][] = [
    [
      "a document of 150,000 keys",
      () => readOutside("preview-document", { raw: bytes(many(150_000, (i) => `k${i}: 1`)) }, SOON),
      "document-syntax",
    ],
    [
      "a key twice among 100,000",
      () => readOutside("preview-document", { raw: bytes(`${many(100_000, (i) => `k${i}: 1`)}\nk500: 2`) }, SOON),
      "document-syntax",
    ],
    [
      "brackets without end",
      () => readOutside("preview-document", { raw: bytes("[".repeat(500_000)) }, SOON),
      "document-syntax",
    ],
    [
      "a list in a list in a list",
      () => readOutside("preview-document", { raw: bytes("- ".repeat(200_000) + "x") }, SOON),
      "document-syntax",
    ],
    ["a release from 200,000 lines", () => learn(many(200_000, (i) => `put a${i} 1`)), "backup-lines"],
    ["a release of 50,000 settings", () => learn(many(50_000, (i) => `put a${i} 1`)), "learn-"],
    [
      "3.9 MB of line ends",
      () => readOutside("inspect", { raw: bytes("\n".repeat(3_900_000)), name: "n" }, SOON).then(([e]) => codeIn(e)),
      "backup-lines",
    ],
    [
      "3.9 MB of carriage returns",
      () => readOutside("inspect", { raw: bytes("\r".repeat(3_900_000)), name: "n" }, SOON).then(([e]) => codeIn(e)),
      "backup-line",
    ],
  ];
  it.each(FREEZES)("%s is answered within seconds, and this process goes on meanwhile", async (_, ask, code) => {
    // of its own work: a machine that does other things beside it gives a process less often its turn
    let worked = process.cpuUsage();
    let longest = 0;
    const pulse = setInterval(() => {
      const { user, system } = process.cpuUsage(worked);
      longest = Math.max(longest, (user + system) / 1000);
      worked = process.cpuUsage();
    }, 20);
    const problem = await ask().then(
      () => "ok",
      (error: unknown) => (error as { problem?: { code: string } }).problem?.code ?? String(error),
    );
    clearInterval(pulse);
    // one that took longer would have been stopped
    expect(problem).toContain(code);
    expect(longest).toBeLessThan(1_500);
  });

  it("what takes too long or too much is ended, kept not at all, and the next is read as ever", async () => {
    const slow = { raw: bytes(many(100_000, (i) => `k${i}: 1`)), account: "lead" };
    const documents = () => one("select count(*)::int as n from catalogue_documents");
    const before = await documents();
    for (const limits of [
      { ms: 200, bytes: 1e9 },
      { ms: 30_000, bytes: 1e6 },
    ])
      expect(await codeOf(readOutside("import-document", slow, limits))).toBe("reading-stopped");
    expect(await documents()).toEqual(before);
    expect(await codeOf(readOutside("inspect", { raw: slateReadout("all"), name: "one.txt" }))).toBe("ok");
  });

  it("what waits for its turn is answered, however many there are; of more than memory holds the last come back", async () => {
    const asked = Array.from({ length: 200 }, () => codeOf(readOutside("inspect", { raw: bytes("x"), name: "x" })));
    expect(new Set(await Promise.all(asked))).toEqual(new Set(["ok"]));
    const large = Array.from({ length: 5 }, () =>
      codeOf(readOutside("inspect", { raw: new Uint8Array(110_000_000), name: "x" })),
    );
    const codes = await Promise.all(large);
    // two are read, two wait
    expect(codes.filter((code) => code === "readers-busy")).toHaveLength(1);
  });
});
