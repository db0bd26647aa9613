import ini from "ini";
import microdiff from "microdiff";
import type { Release } from "@/core/catalog";
import { compareTwo, fleetDrift, resolve, vectorOf } from "@/core/compare";
import { addressId, type Configuration } from "@/core/config";
import { defaultConfiguration, readRecital, reciteLines } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { alternate } from "./alternate";
import { largeRelease } from "./large";
import { catalogue, statementIdiom } from "../support/workshop";

const flat = (configuration: Configuration) =>
  Object.fromEntries(configuration.settings.map((entry) => [addressId(entry), entry.value]));

/** A configuration that stands off the defaults in every n-th value. */
function moved(release: Release, every: number, by: number): Configuration {
  const base = defaultConfiguration(release, undefined, { family: "Large", release: "1" });
  const settings = base.settings.map((entry, i) =>
    i % every === 0 && typeof entry.value === "number" ? { ...entry, value: entry.value + by } : entry,
  );
  return { ...base, settings };
}

/** Reading, comparing and fleet drift, each against its yardstick in the same run. */
export function configurationBench(say: (text?: string) => void): void {
  const document = catalogue().idioms.get("statement");
  if (!document) throw new Error("no idiom");
  const { catalogue: large, release } = largeRelease(document);
  const idiom = statementIdiom();
  const text = reciteLines(moved(release, 9, 1), release, idiom, "all").join("\n");
  const [left, right] = [moved(release, 9, 1), moved(release, 13, 2)];
  const [plainLeft, plainRight] = [flat(left), flat(right)];
  const sides = [
    { configuration: left, release },
    { configuration: right, release },
  ] as const;
  // read as one would by hand: a key = value text of the same settings in the same bytes
  const asIni = text.replaceAll(/^put (\S+) /gm, "$1=   ");
  const read = () => {
    const recital = valueOf(readRecital(text, idiom, large));
    return resolve(recital.configuration, recital.release).values.size;
  };
  const compare = () => void valueOf(compareTwo(sides[0], sides[1], large));
  const reading = alternate(read, () => void ini.parse(asIni), 2000);
  const comparing = alternate(compare, () => void microdiff(plainLeft, plainRight), 2000);
  // made only now: a heap of so many aircraft would slow the first two down
  const fleetOf = (n: number) =>
    Array.from({ length: n }, (_, i) => ({
      tag: `A${i}`,
      vector: vectorOf(moved(release, 50 + (i % 7), 1 + (i % 3)), release),
    }));
  const [hundred, thousand, tenThousand] = [fleetOf(100), fleetOf(1000), fleetOf(10_000)];
  const standard = { configuration: moved(release, 97, 1), release };
  // a standard that nothing was held against yet
  const drift = (fleet: typeof hundred) => () =>
    void fleetDrift({ ...standard, configuration: { ...standard.configuration } }, fleet, large);
  const wider = alternate(drift(thousand), drift(hundred), 3000);
  const widest = alternate(drift(tenThousand), drift(thousand), 6000);
  say("## Configurations: 1,600 settings, medians of alternating rounds");
  say();
  say("| what | against | ratio | aim |");
  say("| --- | --- | --- | --- |");
  say(
    `| read a full backup of ${text.split("\n").length} lines: statements, types, lines, completeness, implicit values | npm ini on the same bytes | ${reading.ratio.toFixed(2)} × | ≤ 1.1 × |`,
  );
  say(
    `| compare two, with titles, causes and both sides | microdiff on plain objects | ${comparing.ratio.toFixed(2)} × | ≤ 1 × |`,
  );
  say(`| a fleet of 1,000 against its standard | ten times less | ${wider.ratio.toFixed(2)} × | ≤ 11 × |`);
  say(`| a fleet of 10,000 against its standard | ten times less | ${widest.ratio.toFixed(2)} × | ≤ 11 × |`);
  say();
  say(`The fleet of 1,000 aircraft took ${(wider.ms / 1000).toFixed(3)} s here (aim: 1 s).`);
  say();
}
