import { type Value } from "@/core/config";
import { ok, refuse, valueOf, type Result } from "@/core/problem";
import { type CatalogueDocument } from "@/core/catalog/documents";
import { type BoardModel, type Processor } from "@/core/catalog/hardware";
import { type Release, type ReleaseTarget, type SettingDefinition, type TableDefinition } from "@/core/catalog/release";
import { resolveRelease } from "@/core/catalog/resolve";

/** All documents of a workshop, resolved. Idioms stay documents here; the idiom folder reads them. */
export interface Catalogue {
  readonly processors: ReadonlyMap<string, Processor>;
  readonly models: ReadonlyMap<string, BoardModel>;
  readonly idioms: ReadonlyMap<string, CatalogueDocument>;
  readonly releases: ReadonlyMap<string, Release>;
}

/** Resolves documents that the schemas have accepted, in any order; releases follow their ancestors. */
export function buildCatalogue(documents: readonly CatalogueDocument[]): Result<Catalogue> {
  const byKind = <T>(kind: CatalogueDocument["document"]) =>
    new Map(documents.filter((d) => d.document === kind).map((d) => [d.id, d as unknown as T]));
  const pending = byKind<CatalogueDocument>("release");
  const releases = new Map<string, Release>();
  while (pending.size > 0) {
    let progress = false;
    for (const [id, document] of pending) {
      const inherits = document.inherits as string | undefined;
      if (inherits !== undefined && !releases.has(inherits)) continue;
      const release = resolveRelease(document, inherits === undefined ? undefined : releases.get(inherits));
      if (!release.ok) return release;
      releases.set(id, release.value);
      pending.delete(id);
      progress = true;
    }
    if (!progress)
      return refuse({
        code: "release-ancestor",
        message: "Releases descend from releases that are missing, or from each other",
        detail: [...pending.keys()].join(", "),
      });
  }
  return ok({
    processors: byKind<Processor>("processor"),
    models: byKind<BoardModel>("board-model"),
    idioms: byKind("idiom"),
    releases,
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

export function releaseById(catalogue: Catalogue, id: string): Result<Release> {
  const release = catalogue.releases.get(id);
  return release
    ? ok(release)
    : none("release-unknown", `The catalogue has no release “${id}”`, "Import its release document under Firmware");
}

/** The target of that name in a release, through its aliases. */
export function findTarget(release: Release, name: string): ReleaseTarget | undefined {
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

/** The default of a setting on a target. */
export const defaultOf = (setting: SettingDefinition, target: string | undefined): Value =>
  (target === undefined ? undefined : setting.defaultByTarget?.[target]) ?? setting.default;

/** The type of a setting on a processor: its own limits, narrowed by what the processor can do. */
export function typeOn(setting: SettingDefinition, processor: string | undefined): SettingDefinition["type"] {
  const max = processor === undefined ? undefined : setting.maxByProcessor?.[processor];
  return setting.type.kind === "number" && max !== undefined
    ? { ...setting.type, max: Math.min(setting.type.max, max) }
    : setting.type;
}

/** Every scope of a release that holds settings of this definition. */
export function scopesOf(
  release: Pick<Release, "profiles">,
  setting: Pick<SettingDefinition, "scope">,
): ("system" | `${string} ${number}`)[] {
  if (setting.scope === "system") return ["system"];
  const profile = release.profiles.find((p) => p.kind === setting.scope);
  return Array.from({ length: profile?.count ?? 0 }, (_, i) => `${setting.scope} ${i + 1}` as const);
}

export interface ReleaseIndex {
  readonly release: Release;
  readonly settings: ReadonlyMap<string, SettingDefinition>;
  readonly tables: ReadonlyMap<string, TableDefinition>;
}

const indexes = new WeakMap<Release, ReleaseIndex>();

/** Look-ups by key, made once for each release object. */
export function indexOf(release: Release): ReleaseIndex {
  let index = indexes.get(release);
  if (!index) {
    index = {
      release,
      settings: new Map(release.settings.map((setting) => [setting.key, setting])),
      tables: new Map(release.tables.map((table) => [table.name, table])),
    };
    indexes.set(release, index);
  }
  return index;
}
