import { buildCatalogue, checkDocument, type Catalogue, type CatalogueDocument, type Release } from "@/core/catalog";
import { valueOf } from "@/core/problem";

const SETTINGS = 1600;
const AREAS = ["sensors", "tune", "power", "display", "ports", "logging", "lights", "mixer"];

/** A release of 1,600 settings, of the kinds that real ones have, whose console speaks a language. */
export function largeRelease(idiom: CatalogueDocument, family = "Large"): { catalogue: Catalogue; release: Release } {
  const settings = Array.from({ length: SETTINGS }, (_, i) => ({
    key: `part-${i % 40}.value-${i}`,
    no: i + 1,
    title: `Value ${i}`,
    area: AREAS[i % AREAS.length],
    type: [
      { number: { min: 0, max: 10_000, step: 0.1, unit: "Hz" } },
      { switch: true },
      { choice: ["low", "middle", "high"] },
      { number: { min: -500, max: 500, step: 1 } },
    ][i % 4],
    default: [i / 10, false, "middle", i % 400][i % 4],
    says: "In benchmarks only.",
    ...(i % 3 === 0 ? { flies: true } : {}),
  }));
  const document = {
    document: "release",
    id: "large-1",
    family,
    version: "1",
    standing: "stable",
    builtOn: "2026-01-01",
    idiom: idiom.id,
    loaderWord: false,
    region: { format: "large-1", stale: "refuse" },
    console: { inputBufferBytes: 256, lineCostUs: 100, baud: 115200 },
    profiles: [],
    targets: [],
    settings,
    tables: [],
  };
  const made = valueOf(buildCatalogue([idiom, valueOf(checkDocument(document))]));
  const release = made.releases.get("large-1");
  if (!release) throw new Error("no release");
  return { catalogue: made, release };
}
