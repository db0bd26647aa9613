import { buildCatalogue, checkDocument, type Catalogue, type Release } from "@/core/catalog";
import type { Configuration, Value } from "@/core/config";
import { valueOf, type Result } from "@/core/problem";

/** Releases that live in tests only, written down in as few words as they need: no code knows of them. */

export const number = (min: number, max: number, step = 1, unit?: string) => ({
  number: { min, max, step, ...(unit === undefined ? {} : { unit }) },
});

export const setting = (key: string, type: object, value: Value, more: object = {}) => ({
  key,
  title: key,
  area: "tune",
  type,
  default: value,
  says: "In tests only.",
  ...more,
});

const named = (id: string) => {
  const [family = id, version = "1"] = id.split("-");
  return { document: "release", id, family, version, standing: "stable", region: { format: id, stale: "refuse" } };
};

/** A release of its own; `family-version` is its id. */
export const wholeRelease = (id: string, settings: readonly object[], more: object = {}) => ({
  ...named(id),
  builtOn: "2026-01-01",
  idiom: "statement",
  loaderWord: true,
  console: { inputBufferBytes: 64, lineCostUs: 100, baud: 115200 },
  profiles: [{ kind: "tune", title: "Tune", count: 3 }],
  targets: [{ id: "T1", processor: "P", gyro: "G", ports: [1, 2], pads: {} }],
  tables: [],
  settings,
  ...more,
});

/** The release that follows another, by its rules. */
export const nextRelease = (id: string, inherits: string, rules: readonly object[], more: object = {}) => ({
  ...named(id),
  builtOn: "2026-02-01",
  inherits,
  rules,
  ...more,
});

export const buildFrom = (...documents: object[]): Result<Catalogue> =>
  buildCatalogue(documents.map((document) => valueOf(checkDocument(structuredClone(document)))));

export const madeCatalogue = (...documents: object[]): Catalogue => valueOf(buildFrom(...documents));

export function releaseIn(catalogue: Catalogue, id: string): Release {
  const found = catalogue.releases.get(id);
  if (!found) throw new Error(`the test's catalogue has no ${id}`);
  return found;
}

/** A configuration in which these values were written: `key` or `scope/key`, each on a line of its own. */
export const writtenValues = (
  values: Readonly<Record<string, Value>>,
  rest: Partial<Configuration> = {},
): Configuration => ({
  identity: { target: "T1" },
  settings: Object.entries(values).map(([id, value], i) => {
    const [scope, key] = id.includes("/") ? id.split("/") : ["system", id];
    return { scope: scope as "system", key: key ?? "", value, raw: "", line: i + 1 };
  }),
  rows: [],
  active: { tune: 2 },
  unknown: [],
  ...rest,
});
