import {
  defaultOf,
  entriesByPlace,
  placesOf,
  releaseTitle,
  rowsOf,
  slotsOf,
  type Firmware,
  type SettingDefinition,
  type Slot,
} from "@/core/catalog";
import {
  addressId,
  doubtsOf,
  equalValues,
  rowId,
  type Configuration,
  type Identity,
  type RowDoubt,
  type ScopeId,
  type TableRow,
  type Value,
  type ValueDoubt,
} from "@/core/config";

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
  readonly release: Firmware;
  readonly identity: Identity;
  readonly values: ReadonlyMap<string, ResolvedValue>;
  readonly rows: ReadonlyMap<string, TableRow & { readonly explicit: boolean }>;
  readonly active: Readonly<Record<string, number>>;
  readonly unknown: Configuration["unknown"];
  /** What is not known: it stands in none of the above, and equals nothing. */
  readonly open: OpenPlaces;
}

/** Places of which it is not known what they hold. */
export interface OpenPlaces {
  readonly values: ReadonlyMap<string, ValueDoubt>;
  /** By table and key; by the table alone where it may hold other rows. */
  readonly rows: ReadonlyMap<string, RowDoubt>;
  readonly active: ReadonlySet<string>;
}

export const openPlaces = (configuration: Pick<Configuration, "doubts">): OpenPlaces => {
  const { values, rows, active } = doubtsOf(configuration);
  return {
    values: new Map(values.map((doubt) => [addressId(doubt), doubt])),
    rows: new Map(
      rows.map((doubt) => [doubt.key === undefined ? doubt.table : rowId({ ...doubt, key: doubt.key }), doubt]),
    ),
    active: new Set(active),
  };
};

/** Why it is not known whether a row stands there, or what it says. */
export const rowDoubtOf = (
  { open }: Pick<Resolved, "open">,
  row: Pick<TableRow, "table" | "key">,
): RowDoubt | undefined => open.rows.get(rowId(row)) ?? open.rows.get(row.table);

/** `Family 1, built 2026-03-11 · TARGET` */
export function buildTitle({ release, identity }: Pick<Resolved, "release" | "identity">): string {
  const built = identity.builtOn ?? release.builtOn;
  return `${releaseTitle(release)}, built ${built}${identity.target === undefined ? "" : ` · ${identity.target}`}`;
}

const resolvedAt = (
  { setting, scope }: Slot,
  entry: Configuration["settings"][number] | undefined,
  target: string | undefined,
): ResolvedValue =>
  entry
    ? { setting, scope, value: entry.value, explicit: true, line: entry.line }
    : { setting, scope, value: defaultOf(setting, target), explicit: false, line: 0 };

/** Values by address, kept in the order of the release's places: every configuration of a release shares their index. */
class PlacedValues implements ReadonlyMap<string, ResolvedValue> {
  constructor(
    private readonly release: Firmware,
    private readonly placed: readonly (ResolvedValue | undefined)[],
    /** Places without a value. */
    private readonly open: number,
  ) {}
  get size() {
    return this.placed.length - this.open;
  }
  get(id: string): ResolvedValue | undefined {
    const place = placesOf(this.release).get(id);
    return place === undefined ? undefined : this.placed[place];
  }
  has(id: string): boolean {
    return this.get(id) !== undefined;
  }
  *keys(): MapIterator<string> {
    for (const [id] of this.entries()) yield id;
  }
  *values(): MapIterator<ResolvedValue> {
    for (const value of this.placed) if (value) yield value;
  }
  *entries(): MapIterator<[string, ResolvedValue]> {
    for (const [id, place] of placesOf(this.release)) {
      const value = this.placed[place];
      if (value) yield [id, value];
    }
  }
  [Symbol.iterator]() {
    return this.entries();
  }
  forEach(take: (value: ResolvedValue, id: string, map: ReadonlyMap<string, ResolvedValue>) => void): void {
    for (const [id, value] of this.entries()) take(value, id, this);
  }
}

function resolveValues(configuration: Configuration, release: Firmware): ReadonlyMap<string, ResolvedValue> {
  const entries = entriesByPlace(configuration, release);
  const { target } = configuration.identity;
  const doubts = doubtsOf(configuration).values;
  const open = doubts.length === 0 ? undefined : new Set(doubts.map(addressId));
  if (!open)
    return new PlacedValues(
      release,
      slotsOf(release).map((slot, i) => resolvedAt(slot, entries[i], target)),
      0,
    );
  const placed = slotsOf(release).map((slot, i) =>
    open.has(slot.id) && entries[i] === undefined ? undefined : resolvedAt(slot, entries[i], target),
  );
  return new PlacedValues(release, placed, placed.filter((value) => value === undefined).length);
}

/** Resolves a configuration. Its values are worked out when they are first asked for: often only rows are. */
export function resolve(configuration: Configuration, release: Firmware): Resolved {
  const rows = new Map<string, TableRow & { explicit: boolean }>();
  for (const row of rowsOf(configuration, release)) rows.set(rowId(row), { ...row, explicit: row.line > 0 });
  const unsaid = new Set(doubtsOf(configuration).active);
  const active = Object.fromEntries(
    release.profiles.flatMap((p) => (unsaid.has(p.kind) ? [] : [[p.kind, configuration.active[p.kind] ?? 1]])),
  );
  let values: ReadonlyMap<string, ResolvedValue> | undefined;
  return {
    release,
    identity: configuration.identity,
    get values() {
      return (values ??= resolveValues(configuration, release));
    },
    rows,
    active,
    unknown: configuration.unknown,
    open: openPlaces(configuration),
  };
}

/** A value on both sides; `theirs` is absent where that side does not have it. */
export type ValuePair = readonly [id: string, mine: ResolvedValue, theirs: ResolvedValue | undefined];

/** The values in which two configurations of one release, certain in all places, are not equal, without resolving the others. */
export function unlikeValues(left: Configuration, right: Configuration, release: Firmware): ValuePair[] {
  const [mine, theirs] = [entriesByPlace(left, release), entriesByPlace(right, release)];
  const [here, there] = [left.identity.target, right.identity.target];
  const pairs: ValuePair[] = [];
  const slots = slotsOf(release);
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i];
    if (!slot) continue;
    const a = mine[i]?.value ?? defaultOf(slot.setting, here);
    const b = theirs[i]?.value ?? defaultOf(slot.setting, there);
    if (a === b || equalValues(a, b, slot.setting.type)) continue;
    pairs.push([slot.id, resolvedAt(slot, mine[i], here), resolvedAt(slot, theirs[i], there)]);
  }
  return pairs;
}
