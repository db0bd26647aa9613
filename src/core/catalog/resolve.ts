import { limitValue, withAreas } from "@/core/config";
import { ok, refuse, type Problem, type Result } from "@/core/problem";
import type { CatalogueDocument } from "@/core/catalog/documents";
import { passAbilities } from "@/core/catalog/abilities";
import { passSettings, passStarter, passTables, passWants } from "@/core/catalog/inherit";
import { columnsOf, defaultOf, typeOn, type SettingDefinition } from "@/core/catalog/definition";
import { PLAIN_IDIOM } from "@/core/catalog/plain-idiom";
import type { Ability, Firmware, FirmwareTarget, LineWay, PartRelease, Release } from "@/core/catalog/release";
import { passPictures, referenceFaultOf, underTargets } from "@/core/catalog/references";
import { asPicture, passPins, pinsDrawn } from "@/core/catalog/pins";
import { checkRules } from "@/core/catalog/rule-faults";
import type { PassageRule } from "@/core/catalog/rules";
import { typeFault } from "@/core/catalog/type-faults";
import {
  columnOf,
  settingsOf,
  typeOf,
  type FirmwareDocument,
  type PartReleaseDocument,
  type ReleaseDocument,
} from "@/core/catalog/written";

const inconsistent = (message: string, path: string, detail: string): Problem => ({
  code: "release-inconsistent",
  message,
  detail,
  where: { path },
});

function faultOf(release: Firmware): Problem | undefined {
  const seen = new Set<string>();
  const scopes = new Set(["system", ...release.profiles.map((profile) => profile.kind)]);
  const areas = withAreas(release.areas.map(({ name }) => name));
  const numbers = new Map<number, string>();
  for (const setting of release.settings) {
    const path = `settings/${setting.key}`;
    if (seen.has(setting.key)) return inconsistent("A setting is defined twice", path, setting.key);
    seen.add(setting.key);
    if (!areas.includes(setting.area))
      return inconsistent(
        "A setting stands in an unknown area",
        path,
        `${setting.area}; there are ${areas.join(", ")}, and the document’s own under “areas”`,
      );
    const other = setting.no === undefined ? undefined : numbers.get(setting.no);
    if (other !== undefined)
      return inconsistent("Two settings have one number", path, `${setting.no}: ${other} and ${setting.key}`);
    if (setting.no !== undefined) numbers.set(setting.no, setting.key);
    if (!scopes.has(setting.scope)) return inconsistent("A setting stands in an unknown scope", path, setting.scope);
    const odd = typeFault(setting.type);
    if (odd) return inconsistent(odd.message, path, `${setting.key}: ${odd.detail}`);
    for (const value of [setting.default, ...Object.values(setting.defaultByTarget ?? {})]) {
      const limited = limitValue(value, setting.type);
      if (limited === undefined || JSON.stringify(limited) !== JSON.stringify(value))
        return inconsistent(
          "A default is outside its setting's range",
          path,
          `${setting.key}: ${JSON.stringify(value)}`,
        );
    }
    for (const { id, processor } of release.targets) {
      const value = defaultOf(setting, id);
      const limited = limitValue(value, typeOn(setting, processor));
      if (JSON.stringify(limited) !== JSON.stringify(value))
        return inconsistent(
          "A default is outside its setting's range on a processor",
          path,
          `${setting.key}: ${JSON.stringify(value)} on ${id}, ${processor}`,
        );
    }
  }
  for (const { keys, columns, name, area } of release.tables) {
    if (!areas.includes(area)) return inconsistent("A table stands in an unknown area", `tables/${name}`, area);
    const seenColumn = new Set<string>();
    for (const column of [...keys, ...columns]) {
      if (seenColumn.has(column.name))
        return inconsistent("A column is defined twice", `tables/${name}/${column.name}`, column.name);
      seenColumn.add(column.name);
      const odd = typeFault(column.type);
      if (odd) return inconsistent(odd.message, `tables/${name}/${column.name}`, `${column.name}: ${odd.detail}`);
    }
  }
  for (const [path, { type }] of [
    ...release.settings.map((setting) => [`settings/${setting.key}`, setting] as const),
    ...release.tables.flatMap((table) => columnsOf(table).map((c) => [`tables/${table.name}/${c.name}`, c] as const)),
  ]) {
    const twice = type.kind === "choice" ? type.options.find((word) => type.aliases?.[word] !== undefined) : undefined;
    if (twice !== undefined) return inconsistent("A word stands for itself and for another", path, twice);
  }
  return undefined;
}

/** What wants a setting that is not there, cannot be so, or waits for itself. */
function wantsFaultOf({ settings, tables }: Pick<Release, "settings" | "tables">): Problem | undefined {
  const known = new Map(settings.map((setting) => [setting.key, setting]));
  for (const [path, { wants }] of [
    ...settings.map((setting) => [`settings/${setting.key}`, setting] as const),
    ...tables.map((table) => [`tables/${table.name}`, table] as const),
  ]) {
    const chain = new Set([path]);
    for (let next = wants; next; next = known.get(next.key)?.wants) {
      const wanted = known.get(next.key);
      if (wanted?.scope !== "system")
        return inconsistent("What is wanted first is no setting of the system", path, next.key);
      const value = limitValue(next.is, wanted.type);
      if (value === undefined || JSON.stringify(value) !== JSON.stringify(next.is))
        return inconsistent("What is wanted first can never be so", path, `${next.key}: ${JSON.stringify(next.is)}`);
      if (chain.has(`settings/${next.key}`)) return inconsistent("A setting waits for itself", path, next.key);
      chain.add(`settings/${next.key}`);
    }
  }
  return undefined;
}

/** The ancestor's settings under the document's rules and changes, then its own. Refuses what speaks of what is not there. */
function settingsUnder(document: FirmwareDocument, ancestor: Firmware | undefined): Result<SettingDefinition[]> {
  if (document.inherits !== undefined && ancestor?.id !== document.inherits)
    return refuse({
      code: "release-ancestor",
      message: `${document.id} descends from a release that the catalogue does not hold`,
      detail: document.inherits,
      hint: "Import the ancestor first",
    });
  const rules = document.rules ?? [];
  const inherited = ancestor ? passSettings(ancestor.settings, rules) : [];
  const changes = new Map((document.change ?? []).map((change) => [change.key, change]));
  const odd = [...changes.keys()].find((key) => !inherited.some((setting) => setting.key === key));
  if (odd !== undefined)
    return refuse({
      code: "release-change",
      message: `${document.id} changes a setting that it does not have`,
      detail: odd,
      where: { path: "change" },
    });
  return ok([
    ...inherited.map((setting): SettingDefinition => {
      const change = changes.get(setting.key);
      if (!change) return setting;
      const { type, area, ...plain } = change;
      return { ...setting, ...plain, ...(area ? { area } : {}), ...(type ? { type: typeOf(type) } : {}) };
    }),
    ...[...(document.settings ?? []), ...(document.add ?? [])].flatMap(settingsOf),
  ]);
}

/** Inherited settings with what they want in the words of this release; what its own document says is in them already. */
function wantedUnder(
  settings: SettingDefinition[],
  { change, settings: own, add }: FirmwareDocument,
  under: {
    readonly rules: readonly PassageRule[];
    readonly ancestor: Release | undefined;
    readonly profiles: Release["profiles"];
  },
): SettingDefinition[] {
  const { rules, ancestor, profiles } = under;
  if (!ancestor) return settings;
  const said = new Set([
    ...(change ?? []).filter(({ wants }) => wants !== undefined).map(({ key }) => key),
    ...[...(own ?? []), ...(add ?? [])].flatMap(settingsOf).map(({ key }) => key),
  ]);
  return settings.map((setting) =>
    setting.wants === undefined || said.has(setting.key)
      ? setting
      : passWants(setting, rules, ancestor.settings, { settings, profiles }),
  );
}

/** A default for a target that the document's release is not built for. */
function targetFault(document: FirmwareDocument, targets: readonly FirmwareTarget[]): Problem | undefined {
  const own = [...(document.settings ?? []), ...(document.change ?? []), ...(document.add ?? [])];
  for (const { key, defaultByTarget = {} } of own) {
    const odd = Object.keys(defaultByTarget).find((name) => !findTargetIn(targets, name));
    if (odd !== undefined) return inconsistent("A default is for a target that there is not", `settings/${key}`, odd);
  }
  return undefined;
}

const findTargetIn = (targets: readonly FirmwareTarget[], name: string) =>
  targets.find(({ id, aliases }) => id === name || aliases.includes(name));

const NO_MORE = { old: () => undefined, now: () => undefined };

/** A release as computed, where its rules and all that it names are in order. */
function inOrder<R extends Firmware>(
  release: R,
  ancestor: R | undefined,
  rules: readonly PassageRule[],
  further: { readonly old: () => Problem | undefined; readonly now: () => Problem | undefined },
  accepted: boolean,
): Result<R> {
  const odd = faultOf(release) ?? further.old();
  if (odd) return refuse(odd);
  // what came in by what was asked of it then stays in
  if (accepted) return ok(release);
  const ruled = ancestor ? checkRules({ rules, before: ancestor, after: release }) : ok(undefined);
  if (!ruled.ok) return ruled;
  const fault = further.now();
  return fault ? refuse(fault) : ok(release);
}

const layoutNamed = (layout: string | undefined) => (layout === undefined ? {} : { layout });

const headOf = (document: FirmwareDocument, ancestor: Firmware | undefined) => ({
  id: document.id,
  family: document.family,
  version: document.version,
  standing: document.standing,
  builtOn: document.builtOn,
  ...(document.inherits === undefined ? {} : { ancestor: document.inherits }),
  passages: [
    ...(document.inherits === undefined ? [] : [{ from: document.inherits, rules: document.rules ?? [] }]),
    ...(document.passages ?? []),
  ],
  areas: [...(ancestor?.areas ?? []), ...(document.areas ?? [])],
  requires: document.requires ?? ancestor?.requires ?? [],
  ...layoutNamed(document.layout ?? ancestor?.layout),
});

/**
 * The full release of a document: written whole, or its ancestor (already resolved) under its rules, changes and
 * additions. Refuses what the schema cannot see: double keys, unknown areas and scopes, rules about settings that the
 * ancestor lacks, defaults out of range.
 */
export function resolveRelease(checked: CatalogueDocument, ancestor?: Release, accepted = false): Result<Release> {
  const document = checked as unknown as ReleaseDocument;
  const found = settingsUnder(document, ancestor);
  if (!found.ok) return found;
  const rules = document.rules ?? [];
  const base = ancestor ?? ({} as Release);
  const profiles = document.profiles ?? base.profiles;
  const targets = (document.targets ?? base.targets).map((t) => ({
    ...t,
    aliases: (t as Partial<typeof t>).aliases ?? [],
  }));
  const fault = accepted ? undefined : targetFault(document, targets);
  if (fault) return refuse(fault);
  const settings = wantedUnder(found.value, document, { rules, ancestor, profiles }).map((setting) =>
    underTargets(setting, targets),
  );
  const tables: Release["tables"] = [
    ...(ancestor
      ? passTables(ancestor.tables, document).map((table) =>
          passWants(table, rules, ancestor.settings, { settings, profiles }),
        )
      : []),
    ...(document.tables ?? []).map((table) => ({
      ...table,
      belongsTo: table.belongsTo ?? "type",
      keys: table.keys.map(columnOf),
      columns: table.columns.map(columnOf),
      rows: table.rows.map((row) => ({ key: row.key, cells: (row as Partial<typeof row>).cells ?? {} })),
    })),
  ];
  const pins =
    document.pins ?? pinsDrawn(document.pictures) ?? (ancestor && passPins(ancestor, rules, { settings, tables }));
  const release: Release = {
    ...headOf(document, ancestor),
    idiom: document.idiom ?? base.idiom,
    ...(document.edition === undefined ? {} : { edition: document.edition }),
    profiles,
    settings,
    tables,
    starters:
      document.starters?.map((starter) => ({
        ...starter,
        values: starter.values.map((v) => ({ ...v, scope: (v as Partial<typeof v>).scope ?? "system" })),
      })) ??
      ancestor?.starters.map((starter) => ({
        ...starter,
        values: starter.values.flatMap((value) => passStarter(value, rules, ancestor.settings, { settings, profiles })),
      })) ??
      [],
    targets,
    ...(pins ? { pins } : {}),
    pictures:
      document.pictures?.map(asPicture) ??
      (ancestor ? passPictures(ancestor, rules, { settings, tables, ...(pins ? { pins } : {}) }) : []),
    region: document.region,
    console: document.console ?? base.console,
    loaderWord: document.loaderWord ?? base.loaderWord,
    ways: (document.ways ?? ancestor?.ways ?? []).map((way) => ({
      ...way,
      unfed: (way as Partial<LineWay>).unfed ?? false,
    })),
    abilities:
      document.abilities?.map((each) => ({
        ...each,
        parts: (each as Partial<Ability>).parts ?? [],
        settings: (each as Partial<Ability>).settings ?? [],
      })) ?? (ancestor ? passAbilities(ancestor, rules, { settings, tables, profiles }) : []),
  };
  const way = release.ways.find(
    ({ opens, turns }) => ![opens, turns ?? opens].every((words) => words.includes(NUMBER)),
  );
  if (way && !accepted)
    return refuse(inconsistent("A line is opened to no part", "ways", `${way.opens} names no ${NUMBER}`));
  return inOrder(
    release,
    ancestor,
    rules,
    { old: () => wantsFaultOf(release), now: () => referenceFaultOf(release) },
    accepted,
  );
}

const NUMBER = "{no}";

/** The full release of another part's document. Refuses what {@link resolveRelease} does, and ancestors of another part. */
export function resolvePart(checked: CatalogueDocument, ancestor?: PartRelease, accepted = false): Result<PartRelease> {
  const document = checked as unknown as PartReleaseDocument;
  const found = settingsUnder(document, ancestor);
  if (!found.ok) return found;
  if (ancestor && ancestor.part !== document.part)
    return refuse(
      inconsistent("A release descends from one of another part", "part", `${ancestor.id} runs on ${ancestor.part}`),
    );
  const release: PartRelease = {
    ...headOf(document, ancestor),
    part: document.part,
    profiles: [],
    settings: found.value,
    tables: [],
    targets: (document.targets ?? ancestor?.targets ?? []).map((t) => ({
      ...t,
      aliases: (t as Partial<typeof t>).aliases ?? [],
    })),
    idiom: document.idiom ?? ancestor?.idiom ?? PLAIN_IDIOM,
    starters: [],
    pictures: [],
    region: document.region ?? { format: document.id, stale: "refuse" },
  };
  return inOrder(release, ancestor, document.rules ?? [], NO_MORE, accepted);
}
