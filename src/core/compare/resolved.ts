import {
  defaultOf,
  entriesByPlace,
  releaseTitle,
  rowsOf,
  slotsOf,
  type Release,
  type SettingDefinition,
} from "@/core/catalog";
import { rowId, type Configuration, type Identity, type ScopeId, type TableRow, type Value } from "@/core/config";

/** A value as it stands on a board: read there, or absent and so the default of its release and target. */
export interface ResolvedValue {
  readonly setting: SettingDefinition;
  readonly scope: ScopeId;
  readonly value: Value;
  readonly explicit: boolean;
  /** Line of the read-out, from 1; 0 when the value is implicit. */
  readonly line: number;
}

/** Everything that a configuration means on a board of its release, implicit values included. */
export interface Resolved {
  readonly release: Release;
  readonly identity: Identity;
  readonly values: ReadonlyMap<string, ResolvedValue>;
  readonly rows: ReadonlyMap<string, TableRow & { readonly explicit: boolean }>;
  readonly active: Readonly<Record<string, number>>;
  readonly unknown: Configuration["unknown"];
}

/** `Heddle 22, built 2026-03-11 · CSLATE-B` */
export function buildTitle({ release, identity }: Pick<Resolved, "release" | "identity">): string {
  const built = identity.builtOn ?? release.builtOn;
  return `${releaseTitle(release)}, built ${built}${identity.target === undefined ? "" : ` · ${identity.target}`}`;
}

export function resolve(configuration: Configuration, release: Release): Resolved {
  const entries = entriesByPlace(configuration, release);
  const target = configuration.identity.target;
  const values = new Map<string, ResolvedValue>();
  const slots = slotsOf(release);
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i];
    if (!slot) continue;
    const { id, setting, scope } = slot;
    const entry = entries[i];
    values.set(
      id,
      entry
        ? { setting, scope, value: entry.value, explicit: true, line: entry.line }
        : { setting, scope, value: defaultOf(setting, target), explicit: false, line: 0 },
    );
  }
  const rows = new Map<string, TableRow & { explicit: boolean }>();
  for (const row of rowsOf(configuration, release)) rows.set(rowId(row), { ...row, explicit: row.line > 0 });
  const active = Object.fromEntries(release.profiles.map((p) => [p.kind, configuration.active[p.kind] ?? 1]));
  return { release, identity: configuration.identity, values, rows, active, unknown: configuration.unknown };
}
