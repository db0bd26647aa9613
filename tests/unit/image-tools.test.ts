import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { FORMATS, type Chunk, type ImageFormat } from "@/core/image";
import { valueOf } from "@/core/problem";

const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-images-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => path.join(folder, name);
const run = (command: string, ...args: string[]) => execFileSync(command, args, { stdio: "pipe" });
const format = (id: string): ImageFormat => {
  const found = FORMATS.find((each) => each.id === id);
  if (!found) throw new Error(id);
  return found;
};

/** Words of other tools for the formats that they know as well. */
const NAMES: Readonly<Record<string, { readonly objcopy: string; readonly srecCat: string }>> = {
  "intel-hex": { objcopy: "ihex", srecCat: "-Intel" },
  "s-record": { objcopy: "srec", srecCat: "-Motorola" },
};

const chunks: fc.Arbitrary<Chunk[]> = fc
  .tuple(
    fc.constantFrom(0, 0xffe0, 0x0800_0000, 0x2000_fff0),
    fc.array(fc.tuple(fc.integer({ min: 1, max: 2000 }), fc.uint8Array({ minLength: 1, maxLength: 500 })), {
      minLength: 1,
      maxLength: 4,
    }),
  )
  .map(([from, parts]) => {
    let next = from;
    return parts.map(([gap, bytes]) => {
      const start = next + gap;
      next = start + bytes.length;
      return { start, bytes };
    });
  });
const told = (all: readonly Chunk[]) => all.map(({ start, bytes }) => [start, Buffer.from(bytes).toString("hex")]);
const options = { start: 0 };

describe("other tools of the same standards are the judge, both ways", () => {
  it.each(Object.entries(NAMES))(
    "%s: what is written here is read there, byte for byte",
    (id, { objcopy, srecCat }) => {
      fc.assert(
        fc.property(chunks, (all) => {
          writeFileSync(at("own"), valueOf(format(id).write(all, options)));
          const first = all[0]?.start ?? 0;
          run("objcopy", "-I", objcopy, "-O", "binary", "--gap-fill", "0xff", at("own"), at("raw"));
          const raw = readFileSync(at("raw"));
          for (const { start, bytes } of all)
            expect(raw.subarray(start - first, start - first + bytes.length).equals(bytes)).toBe(true);
          run("srec_cat", at("own"), srecCat, "-o", at("theirs"), srecCat);
          expect(told(valueOf(format(id).read(readFileSync(at("theirs")), options)).chunks)).toEqual(told(all));
        }),
        { numRuns: 12 },
      );
    },
  );

  it.each(Object.entries(NAMES))(
    "%s: what is written there is read here, byte for byte",
    (id, { objcopy, srecCat }) => {
      fc.assert(
        fc.property(
          fc.uint8Array({ minLength: 1, maxLength: 3000 }),
          fc.constantFrom(0, 0xfff0, 0x0800_4000),
          (bytes, start) => {
            writeFileSync(at("raw"), bytes);
            run("objcopy", "-I", "binary", "-O", objcopy, "--change-addresses", String(start), at("raw"), at("one"));
            run("srec_cat", at("raw"), "-Binary", "-offset", String(start), "-o", at("two"), srecCat);
            for (const name of ["one", "two"])
              expect(told(valueOf(format(id).read(readFileSync(at(name)), options)).chunks)).toEqual(
                told([{ start, bytes }]),
              );
          },
        ),
        { numRuns: 12 },
      );
    },
  );

  it("one format into the other: the same as theirs", () => {
    fc.assert(
      fc.property(chunks, (all) => {
        writeFileSync(at("own"), valueOf(format("intel-hex").write(all, options)));
        run("srec_cat", at("own"), "-Intel", "-o", at("theirs"), "-Motorola");
        expect(told(valueOf(format("s-record").read(readFileSync(at("theirs")), options)).chunks)).toEqual(told(all));
        run("objcopy", "-I", "ihex", "-O", "srec", at("own"), at("theirs"));
        expect(told(valueOf(format("s-record").read(readFileSync(at("theirs")), options)).chunks)).toEqual(told(all));
      }),
      { numRuns: 12 },
    );
  });
});

describe("bin/convert", () => {
  const convert = (...args: string[]) => {
    const done = spawnSync(path.resolve("bin/convert"), args, { cwd: folder, encoding: "utf8" });
    return { status: done.status, says: done.stdout + done.stderr };
  };

  it("goes through every format and comes back with the same bytes", () => {
    const bytes = Uint8Array.from({ length: 3000 }, (_, i) => (i * 31) & 0xff);
    writeFileSync(at("in.bin"), bytes);
    const way = ["in.bin", "a.hex", "b.srec", "c.uf2", "d.dfu", "out.bin"];
    for (const [i, to] of way.slice(1).entries())
      expect([to, convert(way[i] ?? "", to, "--address", "0x08004000").status]).toEqual([to, 0]);
    expect(readFileSync(at("out.bin")).equals(bytes)).toBe(true);
  });

  it("tells what is kept and what the other format cannot say", () => {
    writeFileSync(at("begin.hex"), "# shelf\n:0400000001020304f2\n:0400000508004101AD\n:00000001FF\n");
    const srec = convert("begin.hex", "begin.srec");
    expect(srec.says).toMatch(/kept: entry address 0x08004101\n.*passed over: 1 line of remarks/s);
    expect(readFileSync(at("begin.srec"), "utf8")).toContain("S70508004101");
    expect(convert("begin.srec", "begin.uf2", "--family", "0x1234").says).toMatch(
      /kept: family 0x00001234\n.*not kept, UF2 cannot say it: entry address 0x08004101/s,
    );
    expect(convert("begin.uf2", "begin.dfu", "--vendor", "0x1209").says).toMatch(
      /cannot say it: family 0x00001234\n.*kept: vendor 0x1209/s,
    );
    expect(convert("begin.dfu", "begin2.hex", "--address", "0").says).toMatch(/cannot say it: vendor 0x1209/);
  });

  it("says what is wrong and where, and writes nothing then", () => {
    writeFileSync(at("raw.bin"), Uint8Array.of(1, 2, 3));
    writeFileSync(at("cut.srec"), "S10400384182\nS1050039");
    const refused = (args: string[], says: RegExp) => {
      const done = convert(...args);
      expect([done.status, says.test(done.says), done.says]).toEqual([1, true, done.says]);
    };
    refused(["raw.bin", "no.hex"], /does not say where it belongs.*--address/s);
    refused(["cut.srec", "no.hex"], /cut off \(line 2\)/);
    refused(["raw.bin", "no.xyz"], /no format “xyz”/);
    refused(["raw.bin", "no.hex", "--address=-5"], /wants a number/);
    refused(["raw.bin", "no.dfu", "--vendor", "99999"], /--vendor wants a number below 2\^16/);
    refused(["raw.bin", "no-such-folder/no.bin"], /no-such-folder\/no\.bin cannot be written/);
    writeFileSync(at("page.hex"), "<html>not found</html>\n");
    refused(["page.hex", "no.bin"], /page\.hex is called Intel HEX, and is none.*--from raw/s);
    refused(["raw.bin", "no.hex", "--sideways"], /'--sideways'/);
    refused(["raw.bin"], /Two files are wanted/);
    refused(["there-is-none", "no.hex"], /Nothing was converted: There is no file there-is-none/);
    refused([".", "no.hex"], /\. is no file/);
    writeFileSync(at("empty.bin"), "");
    writeFileSync(at("empty.hex"), ":00000001FF\n");
    refused(["empty.bin", "no.hex", "--address", "0"], /empty\.bin holds no data/);
    refused(["empty.hex", "no.srec"], /empty\.hex holds no data/);
    refused(["raw.bin", "cut.srec"], /is there already, and was left as it is.*--over/s);
    expect(readFileSync(at("cut.srec"), "utf8")).toContain("S1050039");
    expect(convert("raw.bin", "cut.srec", "--over", "--address", "0x08004000").status).toBe(0);
    expect(existsSync(at("no.hex"))).toBe(false);
  });
});
