import fc from "fast-check";
import { parse } from "yaml";
import { buildCatalogue, checkDocument } from "@/core/catalog";
import { addressId, type Configuration } from "@/core/config";
import { idiomOf, readRecital, reciteLines, type Extent } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { configurations } from "../support/configurations";
import { language, languageFile, LANGUAGES } from "../support/languages";

interface Written {
  quote?: string;
  quoted?: string;
  spelling: Record<string, unknown> & { list?: { quoted?: boolean } };
  text?: { ends?: string };
  lines: Record<string, unknown>[];
}
const written = (name: string) => parse(languageFile(`${name}.idiom.yaml`).toString("utf8")) as Written;

/** A test language with something in its document altered, and the release that it is tried on. */
function altered(body: Written) {
  const idiom = valueOf(checkDocument({ ...body }));
  const release = parse(languageFile("reedling-4.release.yaml").toString("utf8")) as object;
  const catalogue = valueOf(buildCatalogue([idiom, valueOf(checkDocument({ ...release, idiom: idiom.id }))]));
  const of = catalogue.releases.get("reedling-4");
  if (!of) throw new Error("no release");
  return { idiom: idiomOf(idiom), release: of, catalogue };
}

const any = configurations(language("path").release, { family: "Reedling", release: "4", target: "T1" });
const said = ({ settings, rows, active }: Configuration) => ({
  settings: Object.fromEntries(settings.map((entry) => [addressId(entry), entry.value])),
  rows: rows.map(({ table, key, cells }) => [table, key, cells]),
  active,
});

function comesBack({ idiom, release, catalogue }: ReturnType<typeof altered>, told: Configuration, extent: Extent) {
  const lines = reciteLines(told, release, idiom, extent);
  const { configuration, completeness } = valueOf(
    readRecital(lines.map((line) => `${line}\n`).join(""), idiom, catalogue),
  );
  expect([lines, completeness.findings.filter(({ against }) => against)]).toEqual([lines, []]);
  expect([lines, reciteLines(configuration, release, idiom, extent)]).toEqual([lines, lines]);
  if (extent === "all") expect(said(configuration).settings).toEqual(said(told).settings);
}

describe.each(LANGUAGES)("the %s language, altered", (name) => {
  const extents = fc.constantFrom<Extent>(
    ...(written(name).lines.some(isExtent) ? (["all", "moved"] as const) : (["all"] as const)),
  );

  it("with lines around any of its forms that say nothing: counted, checked, and read back", () => {
    const ornaments = fc.array(fc.constantFrom("", "~~~~", "~ part ~", "   "), { maxLength: 3 });
    fc.assert(
      fc.property(any, extents, fc.nat(40), ornaments, ornaments, (told, extent, at, before, after) => {
        const body = written(name);
        if (body.text?.ends !== undefined) return;
        const form = body.lines[at % body.lines.length];
        if (form?.means === "comment" || form?.inComment === true) return;
        Object.assign(form ?? {}, { before, after });
        comesBack(altered(body), told, extent);
      }),
      { numRuns: 60 },
    );
  });

  it("with choices by their places and flags by their bits", () => {
    fc.assert(
      fc.property(any, extents, fc.constantFrom(0, 1), (told, extent, choicesFrom) => {
        const body = written(name);
        Object.assign(body.spelling, { choicesFrom, flagsAsBits: true });
        comesBack(altered(body), told, extent);
      }),
      { numRuns: 40 },
    );
  });
});

function isExtent(form: Record<string, unknown>): boolean {
  return (
    String(form.pattern).includes("{extent}") || (form.with as { extent?: string } | undefined)?.extent !== undefined
  );
}
