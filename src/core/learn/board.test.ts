import fc from "fast-check";
import { parse } from "yaml";
import { buildCatalogue, checkDocument, findTarget, loaderOn, processorOf, sectorsOf } from "@/core/catalog";
import { boardDocuments, type BoardParticulars, type ProcessorParticulars } from "@/core/learn";
import { valueOf } from "@/core/problem";
import { demoDocuments } from "../../../demo/documents";
import { catalogue, release } from "../../../tests/support/workshop";

const BOARD: BoardParticulars = {
  ...{ target: "SEDGE-1", title: "Slate Mini", maker: "Corsley", revision: "A", processor: "Nettle 20" },
  ...{ ports: [1, 2], bootButton: true, bootPads: false, usb: { vendorId: 0x1209, productId: 0x61 } },
};
const CHIP: ProcessorParticulars = {
  flashStart: 0x08000000,
  sectors: [
    { count: 4, sizeBytes: 16_384 },
    { count: 7, sizeBytes: 131_072 },
  ],
  ...{ settingsSectors: [1, 2], applicationSector: 4, chipIdWords: 3, loaderIdWords: [0, 1] },
  loaders: [{ kind: "drive", vendorId: 0x1209, productId: 0x62, familyId: 7 }],
};
const DEMO = demoDocuments();
const textOf = (id: string) =>
  DEMO.find(({ document }) => document.document === "release" && document.id === id)?.text ?? "";
const made = (id: string, board: BoardParticulars, chip?: ProcessorParticulars) =>
  boardDocuments(board, chip, release(id), textOf(id), catalogue());

/** The workshop with the documents in it: what the board came out as there. */
function workshopWith(texts: readonly string[]) {
  const fresh = texts.map((text) => valueOf(checkDocument(parse(text))));
  const others = DEMO.map(({ document }) => document).filter(
    (old) => !fresh.some((each) => each.document === old.document && each.id === old.id),
  );
  return valueOf(buildCatalogue([...others, ...fresh]));
}

const name = fc.stringMatching(/^[A-Za-z][A-Za-z0-9 ]{0,20}[A-Za-z0-9]$/);
const boards: fc.Arbitrary<BoardParticulars> = fc.record({
  target: fc.stringMatching(/^[A-Z]{3,8}-[0-9]{1,3}$/),
  title: name,
  maker: name,
  revision: fc.constantFrom("A", "B2"),
  processor: fc.constantFrom("Nettle 12", "Nettle 41"),
  ports: fc.uniqueArray(fc.integer({ min: 1, max: 16 }), { maxLength: 6 }),
  bootButton: fc.boolean(),
  bootPads: fc.boolean(),
  usb: fc.record({ vendorId: fc.nat(0xffff), productId: fc.nat(0xffff) }),
});

describe("a board by its particulars", () => {
  it("whatever is said of it comes out as documents that the workshop takes, and nothing else changes", () => {
    fc.assert(
      fc.property(boards, fc.constantFrom("heddle-18", "heddle-23", "weft-9", "bobbin-41"), (board, id) => {
        fc.pre(!findTarget(release(id), board.target));
        const documents = valueOf(made(id, board));
        const there = workshopWith(documents.map(({ text }) => text));
        const after = there.releases.get(id);
        expect(after?.targets.at(-1)).toMatchObject({
          id: board.target,
          processor: board.processor,
          ports: board.ports,
        });
        expect(after?.targets.slice(0, -1)).toEqual(release(id).targets);
        expect({ ...after, targets: [] }).toEqual({ ...release(id), targets: [] });
        const model = [...there.models.values()].find(({ target }) => target === board.target);
        expect(model).toMatchObject({ title: board.title, maker: board.maker, usb: board.usb });
      }),
      { numRuns: 15 },
    );
  });

  it("remarks in the release’s document stay", () => {
    const remarks = (text: string) => text.split("\n").filter((line) => line.trim().startsWith("#"));
    const after = valueOf(made("heddle-18", BOARD)).find(({ kind }) => kind === "release")?.text ?? "";
    expect(remarks(textOf("heddle-18")).length).toBeGreaterThan(3);
    expect(remarks(after)).toEqual(remarks(textOf("heddle-18")));
  });

  it("an unknown processor comes with its flash and its loaders; where it says what it is, is worked out", () => {
    const documents = valueOf(made("heddle-23", { ...BOARD, processor: "Nettle 33" }, CHIP));
    const there = workshopWith(documents.map(({ text }) => text));
    const chip = processorOf(there, "Nettle 33");
    expect(loaderOn(chip, "drive")).toMatchObject({ familyId: 7 });
    expect(sectorsOf(chip)[chip.applicationSector]?.sizeBytes).toBe(chip.identityOffset + 64);
  });

  it("what cannot be so is refused, with the field that says it", () => {
    const pathOf = (board: Partial<BoardParticulars>, chip?: Partial<ProcessorParticulars>) => {
      const found = made("heddle-23", { ...BOARD, ...board }, chip && { ...CHIP, ...chip });
      return found.ok ? "ok" : found.problem.where?.path;
    };
    const fresh = { processor: "Nettle 33" };
    expect(pathOf({})).toBe("ok");
    expect(pathOf({ target: "CSLATE-B" })).toBe("target");
    expect(pathOf({ title: "Slate" })).toBe("title");
    expect(pathOf({ title: "…", maker: "—", target: "++" })).toBe("title");
    expect(pathOf(fresh)).toBe("processor");
    expect(pathOf({}, {})).toBe("processor");
    expect(pathOf(fresh, { applicationSector: 11 })).toBe("applicationSector");
    expect(pathOf(fresh, { settingsSectors: [11] })).toBe("settingsSectors");
    expect(pathOf(fresh, { settingsSectors: [] })).toBe("settingsSectors");
    expect(pathOf(fresh, { loaderIdWords: [3] })).toBe("loaderIdWords");
    expect(pathOf(fresh, { sectors: [{ count: 512, sizeBytes: 1_048_576 }] })).toBe("sectors");
    expect(pathOf(fresh, { flashStart: 0xffffff00 })).toBe("sectors");
    expect(pathOf(fresh, { settingsSectors: [4, 5, 6, 7, 8, 9, 10] })).toBe("settingsSectors");
    // restored and not flashed: no loader is asked for
    expect(pathOf(fresh, { loaders: [] })).toBe("ok");
  });
});
