import type { Catalogue, Release } from "@/core/catalog";
import { unwritable, type CommandName, type Idiom } from "@/core/idiom";

/** Something that maintainers do with a family's documents. */
export const WORKS = ["read", "compare", "carry over", "restore", "flash"] as const;
export type Work = (typeof WORKS)[number];

/** Whether the documents at hand are enough for a piece of work, and what is missing. */
export interface Readiness {
  readonly work: Work;
  readonly lacks: readonly string[];
}

export interface AtHand {
  readonly idiom?: Idiom;
  /** Lines of the sample that the language does not understand. */
  readonly leftOver?: number;
  readonly release?: Release;
  readonly catalogue: Catalogue;
  /** Images that are in the workshop for the release. */
  readonly images: number;
}

const RESTORE: readonly CommandName[] = ["recite", "declare", "forget", "keep", "restart"];
const LEAST_CONCEPTS = 8;

function readingLacks({ idiom, leftOver = 0, release }: AtHand): string[] {
  return [
    ...(idiom ? [] : ["the language of its console"]),
    ...(leftOver > 0 ? [`the meaning of ${leftOver} ${leftOver === 1 ? "line" : "lines"} of the sample`] : []),
    ...(release ? [] : ["a release: what its settings are"]),
  ];
}

/** Ways to or from another release: its own rules, those of later ones, or meanings that it shares with another family. */
function hasWay(release: Release, { releases }: Catalogue): boolean {
  const others = [...releases.values()].filter(({ id }) => id !== release.id);
  const joined =
    release.passages.length > 0 || others.some(({ passages }) => passages.some(({ from }) => from === release.id));
  const mine = new Set(release.settings.flatMap(({ concept }) => concept?.id ?? []));
  return (
    joined ||
    others.some(
      ({ settings }) => settings.filter(({ concept }) => concept && mine.has(concept.id)).length >= LEAST_CONCEPTS,
    )
  );
}

function flashingLacks({ release, catalogue, images }: AtHand): string[] {
  if (!release) return ["a release"];
  const targets = release.targets.filter(({ processor }) => catalogue.processors.has(processor));
  return [
    ...(release.targets.length === 0 ? ["a target: which pads its board has, and which processor"] : []),
    ...(release.targets.length > 0 && targets.length === 0
      ? [`a processor document: ${[...new Set(release.targets.map(({ processor }) => processor))].join(", ")}`]
      : []),
    ...(targets.length > 0 &&
    targets.every(({ processor }) => catalogue.processors.get(processor)?.loaders.length === 0)
      ? ["a loader of its processor"]
      : []),
    ...(images === 0 ? ["an image of it"] : []),
  ];
}

/** What can be done with what is there, piece of work by piece of work, and what the others want. */
export function readinessOf(there: AtHand): Readiness[] {
  const reading = readingLacks(there);
  const { idiom, release, catalogue } = there;
  const words = idiom ? RESTORE.filter((name) => idiom.words[name] === undefined) : [];
  const mute = idiom ? unwritable(idiom).map((form) => `a form for ${form}`) : [];
  return [
    { work: "read", lacks: reading },
    { work: "compare", lacks: reading },
    {
      work: "carry over",
      lacks: [
        ...reading,
        ...(release && !hasWay(release, catalogue)
          ? ["rules from another release, or settings whose meaning (concept) is said"]
          : []),
      ],
    },
    {
      work: "restore",
      lacks: [
        ...reading,
        ...mute,
        ...(words.length > 0 ? [`what is said to its console: ${words.join(", ")}`] : []),
        ...(idiom && !idiom.answers ? ["how its console answers"] : []),
        ...(release?.targets.length === 0 ? ["a target: which board it runs on"] : []),
      ],
    },
    { work: "flash", lacks: flashingLacks(there) },
  ];
}
