import type { CatalogueDocument } from "@/core/catalog/documents";

export const PLAIN_IDIOM = "plain";

/**
 * How the settings of a part without a console are written down, when they were read out of its settings region. It ships
 * with the product, because nothing speaks it; a document of that name takes its place.
 */
export const PLAIN_DOCUMENT: CatalogueDocument = {
  document: "idiom",
  id: PLAIN_IDIOM,
  title: "Plain writing",
  spelling: { decimalMark: ".", on: "yes", off: "no", listMark: ", ", empty: "none" },
  quote: '"',
  facts: {
    family: "family",
    release: "version",
    builtOn: "built on",
    target: "target",
    board: "part",
    chipId: "chip",
    extent: "extent",
  },
  lines: [
    { means: "end", pattern: "# end of {lines} lines, crc-32 {check}" },
    { means: "fact", pattern: "# {name}: {value...}" },
    { means: "comment", pattern: "#{text...}" },
    { means: "set", pattern: "{key} = {value...}" },
  ],
  recital: { movedWord: "moved", end: { check: "crc32" } },
};
