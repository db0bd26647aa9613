import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { LOADER_SETTINGS } from "@/core/catalog/loaders";
import { loaderSchemas } from "@/core/catalog/loaders/schema";

const FILE = path.resolve(__dirname, "../../../../docs/formats/processor.schema.json");

interface Published {
  readonly properties: { readonly loaders: { readonly items: { oneOf: readonly object[] } } };
}

it("the published schema of a processor says of its loaders what their kinds say", () => {
  const published = JSON.parse(readFileSync(FILE, "utf8")) as Published;
  if (process.env.GOLDEN === "write") {
    published.properties.loaders.items.oneOf = loaderSchemas();
    writeFileSync(FILE, `${JSON.stringify(published, undefined, 2)}\n`);
  }
  expect(published.properties.loaders.items.oneOf).toEqual(loaderSchemas());
});

it("no kind and no setting of a kind stands twice, and whatever a form must ask for has a label", () => {
  const kinds = LOADER_SETTINGS.map(({ kind }) => kind);
  expect(new Set(kinds).size).toBe(kinds.length);
  for (const { fields } of LOADER_SETTINGS) {
    expect(new Set(fields.map(({ name }) => name)).size).toBe(fields.length);
    expect(fields.filter(({ label, optional }) => label === undefined && optional !== true)).toEqual([]);
  }
});
