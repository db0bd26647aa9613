import fc from "fast-check";
import { unzipSync, zipSync } from "fflate";
import { closeDb } from "@/server/db";
import {
  currentDocuments,
  documentById,
  importDocuments,
  listDocuments,
  loadCatalogue,
} from "@/server/repositories/catalogue";
import { importPack, originOf, packOf, previewPack } from "@/server/repositories/packs";
import { backInUse, withdraw, withdrawnDocuments } from "@/server/repositories/withdrawals";
import { verifyChain } from "@/server/chain";
import { demoDocuments } from "../../demo/documents";
import { codeOf, emptyDatabase, freshDatabase, workOn } from "../support/database";
import { migrate } from "@/server/migrate";

const NOW = new Date("2026-11-27T08:00:00Z");
let pack: Uint8Array;
let names: string[];

beforeAll(async () => {
  await freshDatabase("packs");
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  pack = (await packOf("Bobbin", "lead", NOW)).bytes;
  names = Object.keys(unzipSync(pack)).toSorted();
});
afterAll(closeDb);

/** An empty workshop beside the one that the pack was made in. */
const elsewhere = async (name: string) => {
  await workOn(await emptyDatabase(`fresh_start_${name}`));
  await migrate();
};

describe("a family's documents as one file", () => {
  it("hold all that its releases name, each with its hash, and the same bytes at every making", async () => {
    expect(names).toEqual(
      expect.arrayContaining([
        "manifest.json",
        "bobbin-40.release.yaml",
        "bobbin-41.release.yaml",
        "record.idiom.yaml",
      ]),
    );
    expect(names.some((name) => name.endsWith(".processor.yaml"))).toBe(true);
    expect(names.some((name) => name.startsWith("heddle-"))).toBe(false);
    expect((await packOf("Bobbin", "lead", NOW)).bytes).toEqual(pack);
    expect(await codeOf(packOf("Nobody", "lead", NOW))).toBe("family-none");
  });

  it("whatever is damaged, left out, put in or exchanged is told, and nothing is kept", async () => {
    const before = (await listDocuments()).length;
    const files = unzipSync(pack);
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...names),
        fc.constantFrom("left out", "flipped", "put in", "exchanged"),
        fc.nat(),
        async (name, how, at) => {
          const changed = Object.fromEntries(
            Object.entries(files).filter(([each]) => how !== "left out" || each !== name),
          );
          const own = files[name] ?? new Uint8Array();
          if (how === "put in") changed[`${name}.more`] = own;
          if (how === "flipped") {
            const bytes = own.slice();
            bytes[at % bytes.length] = (bytes[at % bytes.length] ?? 0) ^ 1;
            changed[name] = bytes;
          }
          if (how === "exchanged") {
            const other = names[(names.indexOf(name) + 1 + (at % (names.length - 1))) % names.length] ?? "";
            changed[name] = files[other] ?? new Uint8Array();
          }
          const code = await codeOf(importPack(zipSync(changed), true, "lead"));
          // a flipped letter of the manifest's own words (who made it, when) changes no document
          if (!(name === "manifest.json" && how === "flipped"))
            expect([name, how, code]).toEqual([name, how, "pack-broken"]);
        },
      ),
      { numRuns: 60 },
    );
    expect((await listDocuments()).length).toBe(before);
  });

  it.each<readonly [string, (manifest: Record<string, unknown> & { documents: Record<string, unknown>[] }) => void]>([
    ["a time that there is none of", (manifest) => (manifest.madeAt = "2026-13-45T00:00:00Z")],
    [
      "a version beyond all counting",
      (manifest) => (manifest.documents[0] = { ...manifest.documents[0], version: 2 ** 40 }),
    ],
    ["a document twice", (manifest) => manifest.documents.push({ ...manifest.documents[0] })],
    ["no documents", (manifest) => (manifest.documents = [])],
    [
      "a kind that there is none of",
      (manifest) => (manifest.documents[0] = { ...manifest.documents[0], kind: "spell" }),
    ],
  ])("a manifest that was made with care and says %s is told, and nothing is kept", async (_, forge) => {
    const before = (await listDocuments()).length;
    const files = unzipSync(pack);
    const manifest = JSON.parse(new TextDecoder().decode(files["manifest.json"])) as Parameters<typeof forge>[0];
    forge(manifest);
    const forged = zipSync({ ...files, "manifest.json": new TextEncoder().encode(JSON.stringify(manifest)) });
    expect(await codeOf(previewPack(forged))).toBe("pack-broken");
    expect(await codeOf(importPack(forged, true, "lead"))).toBe("pack-broken");
    expect((await listDocuments()).length).toBe(before);
  });

  it("is looked at, taken in whole by another workshop, with where it came from; a second time nothing changes", async () => {
    await elsewhere("packs_other");
    const preview = await previewPack(pack);
    expect(preview).toMatchObject({ family: "Bobbin", madeBy: "lead", rereading: { looked: 0 } });
    expect(new Set(preview.documents.map(({ state }) => state))).toEqual(new Set(["new"]));
    expect((await listDocuments()).length).toBe(0);
    const kept = await importPack(pack, false, "keeper");
    expect(kept).toEqual({ family: "Bobbin", kept: names.length - 1, unchanged: 0 });
    const catalogue = await loadCatalogue();
    expect([...catalogue.releases.keys()].toSorted()).toEqual(["bobbin-40", "bobbin-41"]);
    expect(catalogue.releases.get("bobbin-41")?.standing).toBe("stable");
    const [document] = (await listDocuments()).filter(({ document_id }) => document_id === "bobbin-41");
    expect(await originOf(document?.id ?? 0)).toMatchObject([{ family: "Bobbin", made_by: "lead", version_there: 1 }]);
    expect(await importPack(pack, false, "keeper")).toMatchObject({ kept: 0, unchanged: names.length - 1 });
    expect((await verifyChain()).faults).toEqual([]);
  });

  it("that disagrees with what is here is told and not merged; it comes in as the next versions by a word", async () => {
    const current = (await currentDocuments("idiom")).find(({ id }) => id === "record");
    await importDocuments([(current?.text ?? "").replace("title: Record idiom", "title: Our records")], "keeper");
    expect((await previewPack(pack)).documents.filter(({ state }) => state === "other").map(({ id }) => id)).toEqual([
      "record",
    ]);
    expect(await codeOf(importPack(pack, false, "keeper"))).toBe("pack-disagrees");
    expect((await currentDocuments("idiom")).map(({ body }) => body.title)).toEqual(["Our records"]);
    expect(await importPack(pack, true, "keeper")).toMatchObject({ kept: 1 });
    expect((await currentDocuments("idiom")).map(({ body }) => body.title)).toEqual(["Record idiom"]);
  });
});

describe("a document that is withdrawn", () => {
  it("is kept and no longer used, and comes back by a word; what stands on it holds it back, and is named", async () => {
    await elsewhere("packs_withdrawn");
    await importPack(pack, false, "keeper");
    const [old] = (await listDocuments()).filter(({ document_id }) => document_id === "bobbin-41");
    expect(await codeOf(withdraw("idiom", "record", "Not ours", "lead"))).toBe("document-used");
    expect(await codeOf(withdraw("release", "bobbin-40", "Not ours", "lead"))).toBe("document-used");
    expect(await codeOf(withdraw("release", "nothing", "Not ours", "lead"))).toBe("document-none");
    await withdraw("release", "bobbin-41", "It never flew here", "lead");
    expect((await loadCatalogue()).releases.has("bobbin-41")).toBe(false);
    expect(await withdrawnDocuments()).toMatchObject([{ document_id: "bobbin-41", reason: "It never flew here" }]);
    // it is kept, every version of it
    expect((await documentById(old?.id ?? 0))?.text).toContain("bobbin-41");
    // then nothing names the other, and it can go as well; both come back in the order of their need
    await withdraw("release", "bobbin-40", "Nor this", "lead");
    expect((await loadCatalogue()).releases.size).toBe(0);
    // out of the order of their need it is refused, and nothing is set aside
    expect(await codeOf(backInUse("release", "bobbin-41", "lead"))).toBe("release-ancestor");
    expect((await withdrawnDocuments()).length).toBe(2);
    await backInUse("release", "bobbin-40", "lead");
    await backInUse("release", "bobbin-41", "lead");
    expect((await loadCatalogue()).releases.size).toBe(2);
    expect(await codeOf(backInUse("release", "bobbin-41", "lead"))).toBe("document-none");
    // what comes in again is used, also where it was withdrawn
    await withdraw("release", "bobbin-41", "Once more", "lead");
    await importPack(pack, false, "keeper");
    expect((await loadCatalogue()).releases.has("bobbin-41")).toBe(true);
    expect((await verifyChain()).faults).toEqual([]);
  });
});
