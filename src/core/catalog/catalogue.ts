import { ok, refuse, valueOf, type Problem, type Result } from "@/core/problem";
import type { CatalogueDocument } from "@/core/catalog/documents";
import { PLAIN_DOCUMENT, PLAIN_IDIOM } from "@/core/catalog/plain-idiom";
import { layoutFault, PLAIN_LAYOUT, type Layout } from "@/core/catalog/layout";
import { loadersFault, type BoardModel, type Processor, type UsbLoader } from "@/core/catalog/hardware";
import {
  lets,
  LOADER_PART,
  type Firmware,
  type FirmwareTarget,
  type PartRelease,
  type Release,
  type Requirement,
} from "@/core/catalog/release";
import type { SettingDefinition, TableDefinition } from "@/core/catalog/definition";
import { checkRules } from "@/core/catalog/rule-faults";
import { resolvePart, resolveRelease } from "@/core/catalog/resolve";

/** All documents of a workshop, resolved. Idioms stay documents here; the idiom folder reads them. */
export interface Catalogue {
  readonly processors: ReadonlyMap<string, Processor>;
  readonly models: ReadonlyMap<string, BoardModel>;
  readonly idioms: ReadonlyMap<string, CatalogueDocument>;
  readonly releases: ReadonlyMap<string, Release>;
  /** Releases of other parts than the main processor. */
  readonly parts: ReadonlyMap<string, PartRelease>;
  /** How families mark their images and keep their settings. */
  readonly layouts: ReadonlyMap<string, Layout>;
}

/** Resolves all documents of one kind, each after its ancestor. */
function resolveAll<R extends Firmware>(
  documents: readonly CatalogueDocument[],
  resolve: (document: CatalogueDocument, ancestor: R | undefined, accepted: boolean) => Result<R>,
  accepted: ReadonlySet<string>,
): Result<Map<string, R>> {
  const pending = new Map(documents.map((document) => [document.id, document]));
  const resolved = new Map<string, R>();
  while (pending.size > 0) {
    const ready = [...pending.values()].filter(
      ({ inherits }) => inherits === undefined || resolved.has(inherits as string),
    );
    if (ready.length === 0)
      return refuse({
        code: "release-ancestor",
        message: "Releases descend from releases that are missing, or from each other",
        detail: [...pending.keys()].join(", "),
      });
    for (const document of ready) {
      const { inherits } = document;
      const ancestor = inherits === undefined ? undefined : resolved.get(inherits as string);
      const release = resolve(document, ancestor, accepted.has(document.id));
      if (!release.ok) return release;
      resolved.set(document.id, release.value);
      pending.delete(document.id);
    }
  }
  return ok(resolved);
}

/** What is wrong in a passage from another release than the one that a release is written on; it is looked at where both are there. */
function sidewaysFault(releases: readonly Firmware[], accepted: ReadonlySet<string>): Problem | undefined {
  const byId = new Map(releases.map((release) => [release.id, release]));
  for (const after of releases.filter(({ id }) => !accepted.has(id)))
    for (const { from, rules } of after.passages) {
      const before = byId.get(from);
      const checked = before && from !== after.ancestor ? checkRules({ rules, before, after }) : undefined;
      if (checked && !checked.ok) return checked.problem;
    }
  return undefined;
}

/** The documents' idioms, and the one that ships with the product where a part is written down in it. */
function idiomsWith(
  written: ReadonlyMap<string, CatalogueDocument>,
  parts: ReadonlyMap<string, PartRelease>,
): ReadonlyMap<string, CatalogueDocument> {
  const plain = [...parts.values()].some(({ idiom, part }) => idiom === PLAIN_IDIOM && part !== LOADER_PART);
  return plain ? new Map([[PLAIN_IDIOM, PLAIN_DOCUMENT], ...written]) : written;
}

/** Documents from before a processor could have several loaders name the one by USB. */
type ProcessorDocument = Omit<Processor, "loaders" | "sectors" | "programUsPerByte"> & {
  readonly programUsPerByte?: number;
  readonly sectors: readonly (Omit<Processor["sectors"][number], "eraseUs"> & { readonly eraseUs?: number })[];
  readonly loaders?: Processor["loaders"];
  readonly usbLoader?: Omit<UsbLoader, "kind">;
};

/** How long flash takes where a document does not say: only the simulated board asks. */
const PROGRAM_US_PER_BYTE = 4;
const ERASE_US = 200_000;

const processorFrom = ({ usbLoader, loaders, sectors, ...rest }: ProcessorDocument): Processor => ({
  ...rest,
  programUsPerByte: rest.programUsPerByte ?? PROGRAM_US_PER_BYTE,
  sectors: sectors.map((run) => ({ ...run, eraseUs: run.eraseUs ?? ERASE_US })),
  loaders: loaders ?? (usbLoader ? [{ kind: "usb", ...usbLoader }] : []),
});

/** Documents that a workshop took in once, by what import asked of them then: what it asks today refuses none of them. */
export const keptCatalogue = (documents: readonly CatalogueDocument[]): Result<Catalogue> =>
  buildCatalogue(documents, new Set(documents.map(({ id }) => id)));

/**
 * Resolves documents that the schemas have accepted, in any order; releases follow their ancestors. `accepted`: ids of those
 * that the workshop holds already.
 */
export function buildCatalogue(
  documents: readonly CatalogueDocument[],
  accepted: ReadonlySet<string> = new Set(),
): Result<Catalogue> {
  const ofKind = (kind: CatalogueDocument["document"]) => documents.filter((d) => d.document === kind);
  const byId = <T>(kind: CatalogueDocument["document"]) => new Map(ofKind(kind).map((d) => [d.id, d as unknown as T]));
  const releases = resolveAll<Release>(ofKind("release"), resolveRelease, accepted);
  if (!releases.ok) return releases;
  const parts = resolveAll<PartRelease>(ofKind("part-release"), resolvePart, accepted);
  if (!parts.ok) return parts;
  const twice = [...parts.value.keys()].find((id) => releases.value.has(id));
  if (twice !== undefined)
    return refuse({
      code: "release-twice",
      message: "A release and one of another part have the same id",
      detail: twice,
      hint: "Give one of them another id",
    });
  const sideways =
    sidewaysFault([...releases.value.values()], accepted) ?? sidewaysFault([...parts.value.values()], accepted);
  if (sideways) return refuse(sideways);
  const layouts = byId<Layout>("layout");
  const fault = [...layouts.values()].flatMap((layout) => layoutFault(layout) ?? [])[0];
  if (fault) return refuse(fault);
  const processors = new Map([...byId<ProcessorDocument>("processor")].map(([id, each]) => [id, processorFrom(each)]));
  const doubled = [...processors.values()].flatMap((each) =>
    accepted.has(each.id) ? [] : (loadersFault(each) ?? []),
  )[0];
  if (doubled) return refuse(doubled);
  const named = [...releases.value.values(), ...parts.value.values()];
  const lacking = named.find(({ layout }) => layout !== undefined && !layouts.has(layout));
  if (lacking)
    return refuse({
      code: "release-layout",
      message: `${lacking.id} names a layout that the catalogue does not hold`,
      detail: lacking.layout ?? "",
      hint: "Import the layout document first",
    });
  return ok({
    layouts,
    processors,
    models: byId<BoardModel>("board-model"),
    idioms: idiomsWith(byId("idiom"), parts.value),
    releases: releases.value,
    parts: parts.value,
  });
}

const none = (code: string, message: string, hint: string) => refuse({ code, message, hint });

export function findRelease(
  catalogue: Catalogue,
  family: string | undefined,
  version: string | undefined,
): Result<Release> {
  for (const release of catalogue.releases.values())
    if (release.family === family && release.version === version) return ok(release);
  return none(
    "release-unknown",
    `The catalogue has no release ${family ?? "?"} ${version ?? "?"}`,
    "Import its release document under Firmware",
  );
}

/** What an image or a text says that it is of: a release of whichever part. */
export function findFirmware(
  catalogue: Catalogue,
  family: string | undefined,
  version: string | undefined,
): Result<Release | PartRelease> {
  const part = [...catalogue.parts.values()].find((each) => each.family === family && each.version === version);
  return part ? ok(part) : findRelease(catalogue, family, version);
}

export function releaseById(catalogue: Catalogue, id: string): Result<Release> {
  const release = catalogue.releases.get(id);
  return release
    ? ok(release)
    : none("release-unknown", `The catalogue has no release “${id}”`, "Import its release document under Firmware");
}

/** The releases of all parts, the main processor's first. */
export const allFirmware = ({ releases, parts }: Catalogue): Firmware[] => [...releases.values(), ...parts.values()];

/** How a release marks its images and keeps its settings. */
export const layoutOf = (catalogue: Catalogue, { layout }: Pick<Firmware, "layout">): Layout =>
  (layout === undefined ? undefined : catalogue.layouts.get(layout)) ?? PLAIN_LAYOUT;

/** Every layout that an image or a region may have. */
export const layoutsOf = ({ layouts }: Catalogue): readonly Layout[] => [PLAIN_LAYOUT, ...layouts.values()];

/** A release of whichever part. */
export const firmwareById = ({ releases, parts }: Catalogue, id: string): Firmware | undefined =>
  releases.get(id) ?? parts.get(id);

/** What of the catalogue a requirement lets through, oldest first. */
export const meeting = (catalogue: Catalogue, requirement: Requirement): PartRelease[] =>
  [...catalogue.parts.values()]
    .filter(({ part, family }) => part === requirement.part && family === requirement.family)
    .filter(({ version }) => lets(requirement, Number(version)))
    .toSorted((a, b) => Number(a.version) - Number(b.version));

/** The releases that a release of another part serves: that require its family, and let it through. */
export const wantedBy = (catalogue: Catalogue, part: PartRelease): Firmware[] =>
  allFirmware(catalogue).filter(({ requires }) =>
    requires.some((requirement) => meeting(catalogue, requirement).includes(part)),
  );

/** Loaders that are written for a processor, oldest first. None where its loader is in ROM, or nobody made another. */
export const loadersFor = (catalogue: Catalogue, processor: string): PartRelease[] =>
  [...catalogue.parts.values()]
    .filter(({ part, targets }) => part === LOADER_PART && targets.some((target) => target.processor === processor))
    .toSorted((a, b) => Number(a.version) - Number(b.version));

/** What a release wants of the loader on a processor, and what meets it, oldest first; undefined where it wants nothing. */
export function loaderWanted(
  catalogue: Catalogue,
  release: Firmware,
  processor: string,
): { readonly requirement: Requirement; readonly loaders: readonly PartRelease[] } | undefined {
  const made = loadersFor(catalogue, processor);
  const requirement = release.requires.find(
    ({ part, family }) => part === LOADER_PART && made.some((each) => each.family === family),
  );
  return requirement && { requirement, loaders: meeting(catalogue, requirement).filter((each) => made.includes(each)) };
}

/** The target of that name in a release, through its aliases. */
export function findTarget<T extends FirmwareTarget>(
  release: { readonly targets: readonly T[] },
  name: string,
): T | undefined {
  return (
    release.targets.find((target) => target.id === name) ??
    release.targets.find((target) => target.aliases.includes(name))
  );
}

export function processorOf(catalogue: Catalogue, id: string): Processor {
  const processor = catalogue.processors.get(id);
  if (!processor)
    return valueOf(
      none("processor-unknown", `The catalogue has no processor “${id}”`, "Import its document under Firmware"),
    );
  return processor;
}

export interface ReleaseIndex {
  readonly release: Firmware;
  readonly settings: ReadonlyMap<string, SettingDefinition>;
  readonly tables: ReadonlyMap<string, TableDefinition>;
}

const indexes = new WeakMap<Firmware, ReleaseIndex>();

/** Look-ups by key, made once for each release object. */
export function indexOf(release: Firmware): ReleaseIndex {
  let index = indexes.get(release);
  if (!index) {
    const [settings, tables] = [new Map<string, SettingDefinition>(), new Map<string, TableDefinition>()];
    for (const setting of release.settings) settings.set(setting.key, setting);
    for (const table of release.tables) tables.set(table.name, table);
    index = { release, settings, tables };
    indexes.set(release, index);
  }
  return index;
}
