import { readFileSync } from "node:fs";
import path from "node:path";
import Ajv from "ajv/dist/2020";
import fc from "fast-check";
import { loaderShape } from "@/contracts/loader-shape";
import { LOADER_SETTINGS } from "@/core/catalog/loaders";
import { askedOf, EMPTY_FORM, shapeFor, type BoardForm } from "@/ui/boards/board-form";

const published = JSON.parse(
  readFileSync(path.resolve(__dirname, "../../../docs/formats/processor.schema.json"), "utf8"),
) as { properties: { loaders: { items: object } } };
const isLoader = new Ajv({ strict: false }).compile(published.properties.loaders.items);

const hex = fc.integer({ min: 0, max: 65_535 }).map((id) => `0x${id.toString(16)}`);
/** A form as somebody would fill it in: what stands there at first, and the ids of the board. */
const filled = fc
  .record({ kind: fc.constantFrom(...LOADER_SETTINGS.map(({ kind }) => kind)), id: hex })
  .map(({ kind, id }): BoardForm => ({
    ...EMPTY_FORM,
    ...{ flash: true, kinds: [kind], releaseId: "heddle-24", target: "X", title: "X", maker: "X", processor: "X" },
    ...{ productId: id, sectors: "4 x 16 KB" },
    loaders: {
      ...EMPTY_FORM.loaders,
      [kind]: { ...EMPTY_FORM.loaders[kind], productId: id, ...(kind === "drive" ? { familyId: id } : {}) },
    },
  }));
const loadersOf = (form: BoardForm) =>
  (askedOf(form, false, false) as { processor: { loaders: readonly object[] } }).processor.loaders;

describe("the form of a board's loaders", () => {
  it("whatever kind is chosen, what is asked of the server is what it takes and what documents say", () => {
    fc.assert(
      fc.property(filled, (form) => {
        expect(shapeFor(form, false).isValidSync(form)).toBe(true);
        const loaders = loadersOf(form);
        expect(loaders).toHaveLength(1);
        for (const loader of loaders) {
          expect(loaderShape.isValidSync(loader)).toBe(true);
          expect([isLoader(loader), isLoader.errors]).toEqual([true, null]);
        }
      }),
    );
  });

  it("a text that is no number, and one that is missing, are told at their field; kinds that were not chosen are not asked", () => {
    const form = (loader: object): BoardForm => ({
      ...EMPTY_FORM,
      ...{ flash: true, kinds: ["usb"] },
      loaders: { ...EMPTY_FORM.loaders, usb: { ...EMPTY_FORM.loaders.usb, ...loader } },
    });
    const told = (of: BoardForm) => {
      try {
        shapeFor(of, false).validateSync(of, { abortEarly: false });
        return [];
      } catch (error) {
        return (error as { inner: readonly { path?: string }[] }).inner
          .flatMap(({ path: at = "" }) => (at.startsWith("loaders") ? [at] : []))
          .toSorted();
      }
    };
    expect(told(form({ productId: "none", segmentName: "" }))).toEqual([
      "loaders.usb.productId",
      "loaders.usb.segmentName",
      "loaders.usb.segmentName",
    ]);
    expect(told(form({ productId: "0x61" }))).toEqual([]);
  });

  it("what is optional and empty is left out, and what stands in a group goes into it", () => {
    const of = (kind: string) => loadersOf({ ...EMPTY_FORM, flash: true, kinds: [kind] })[0];
    expect(of("drive")).not.toHaveProperty("holds");
    expect(of("serial")).toMatchObject({ kind: "serial", baud: 115_200, letters: { read: "r", start: "g" } });
  });
});
