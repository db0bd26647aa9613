import { defaultOf, indexOf, type Firmware, type TableDefinition, type Wants } from "@/core/catalog";
import { addressId, equalValues, type ScopeId, type SettingEntry, type Value } from "@/core/config";
import { groupBy } from "@/core/group-by";
import type { Settled } from "@/core/carryover/settle";

/** What is sent together: values of one scope, lines that nobody understands, a table whole. */
export type Sending =
  | {
      readonly kind: "values";
      readonly scope: ScopeId;
      readonly entries: readonly SettingEntry[];
      readonly foreign: Settled["lines"];
    }
  | { readonly kind: "lines"; readonly lines: Settled["lines"] }
  | { readonly kind: "table"; readonly table: TableDefinition };

/** What is sent between two starts of the board, in its order. */
export type Pass = readonly Sending[];

type Place = { readonly wants: Wants | undefined } & (
  { readonly kind: "value"; readonly entry: SettingEntry } | { readonly kind: "table"; readonly table: TableDefinition }
);

const values = (scope: ScopeId, entries: readonly SettingEntry[], foreign: Settled["lines"] = []): Sending => ({
  kind: "values",
  scope,
  entries,
  foreign,
});

/** The places in the order in which they are sent where nothing wants anything: system, tables, each profile. */
function plainOrder(
  entries: readonly SettingEntry[],
  tables: readonly TableDefinition[],
  lines: Settled["lines"] = [],
): Sending[] {
  const scopes = new Set([...entries, ...lines].map(({ scope }) => scope));
  const inScope = <T extends { readonly scope: ScopeId }>(all: readonly T[], scope: ScopeId) =>
    all.filter((each) => each.scope === scope);
  return [
    values("system", inScope(entries, "system")),
    { kind: "lines", lines: inScope(lines, "system") },
    ...tables.map((table): Sending => ({ kind: "table", table })),
    ...[...scopes].flatMap((scope) =>
      scope === "system" ? [] : [values(scope, inScope(entries, scope), inScope(lines, scope))],
    ),
  ];
}

/** A board as it is after each line: which settings stand how, and how they stood when it started. */
class Sequence {
  readonly passes: Sending[][] = [[]];
  private begun: ReadonlyMap<string, Value> = new Map();
  constructor(
    private readonly release: Firmware,
    private readonly stands: Map<string, Value>,
  ) {}

  add(...sendings: readonly Sending[]): void {
    this.passes.at(-1)?.push(...sendings);
    for (const sending of sendings)
      if (sending.kind === "values" && sending.scope === "system")
        for (const { key, value } of sending.entries) this.stands.set(key, value);
  }

  private is(from: ReadonlyMap<string, Value>, { key, is }: Pick<Wants, "key" | "is">): boolean {
    const [value, type] = [from.get(key), indexOf(this.release).settings.get(key)?.type];
    return value !== undefined && type !== undefined && equalValues(value, is, type);
  }

  /** Makes what is wanted so, and what that wants before it. */
  ensure(wants: Wants | undefined): void {
    if (!wants) return;
    const { key, is, sinceStart } = wants;
    if (!this.is(this.stands, wants)) {
      this.ensure(indexOf(this.release).settings.get(key)?.wants);
      this.add(values("system", [{ scope: "system", key, value: is, raw: "", line: 0 }]));
    }
    if (sinceStart !== true || this.is(this.begun, wants)) return;
    this.passes.push([]);
    this.begun = new Map(this.stands);
  }

  /** Whether a setting of the system stands as it shall. */
  isFinal = (entry: SettingEntry): boolean => this.is(this.stands, { key: entry.key, is: entry.value });
}

/** Places that want the same stand together, those that want what others open behind them. */
function byWants(places: readonly Place[], release: Firmware): Place[][] {
  const depthOf = (wants: Wants | undefined): number =>
    wants ? 1 + depthOf(indexOf(release).settings.get(wants.key)?.wants) : 0;
  const groups = groupBy(places, ({ wants }) => JSON.stringify([depthOf(wants), wants]));
  return [...groups.values()].toSorted((a, b) => depthOf(a[0]?.wants) - depthOf(b[0]?.wants));
}

/** What a board holds after it was wiped and given its starter set. */
function wiped(release: Firmware, target: string | undefined, starter: string | undefined): Map<string, Value> {
  const held = new Map<string, Value>();
  for (const setting of release.settings)
    if (setting.scope === "system") held.set(setting.key, defaultOf(setting, target));
  for (const { scope, key, value } of release.starters.find(({ name }) => name === starter)?.values ?? [])
    if (scope === "system") held.set(key, value);
  return held;
}

/**
 * The order of a restore, by what the release's settings and tables want: what is wanted first is made so, and the board
 * started where that counts only from then on; in the end all stands as it shall. A value that wants something and stands as
 * the wiped board holds it is not sent: nothing has to be opened for it.
 */
export function passesOf({ configuration, lines }: Settled, release: Firmware, starter?: string): readonly Pass[] {
  const { target } = configuration.identity;
  const given = new Map(
    release.starters.find(({ name }) => name === starter)?.values.map((each) => [addressId(each), each.value]),
  );
  const settings = indexOf(release).settings;
  const wantsOf = (entry: SettingEntry) => settings.get(entry.key)?.wants;
  const isHeld = (entry: SettingEntry) => {
    const setting = settings.get(entry.key);
    const held = given.get(addressId(entry)) ?? (setting && defaultOf(setting, target));
    return setting !== undefined && held !== undefined && equalValues(held, entry.value, setting.type);
  };
  const isFilled = ({ name, wants }: TableDefinition) =>
    wants === undefined || configuration.rows.some(({ table }) => table === name);
  const free = configuration.settings.filter((entry) => wantsOf(entry) === undefined);
  const waiting: Place[] = [
    ...configuration.settings.flatMap((entry): Place[] =>
      wantsOf(entry) === undefined || isHeld(entry) ? [] : [{ kind: "value", wants: wantsOf(entry), entry }],
    ),
    ...release.tables.flatMap((table): Place[] =>
      table.wants !== undefined && isFilled(table) ? [{ kind: "table", wants: table.wants, table }] : [],
    ),
  ];
  const sequence = new Sequence(release, wiped(release, target, starter));
  const plain = release.tables.filter(({ wants }) => wants === undefined);
  sequence.add(...plainOrder(free, plain, lines));
  for (const group of byWants(waiting, release)) {
    sequence.ensure(group[0]?.wants);
    const entries = group.flatMap((place) => (place.kind === "value" ? [place.entry] : []));
    const tables = group.flatMap((place) => (place.kind === "table" ? [place.table] : []));
    sequence.add(...plainOrder(entries, tables));
  }
  // what was opened for others only stands as it shall again: first what hangs on others
  const own = configuration.settings
    .filter(({ scope }) => scope === "system")
    .map((entry): Place => ({ kind: "value", wants: wantsOf(entry), entry }));
  for (const group of byWants(own, release).toReversed())
    for (const place of group) {
      if (place.kind !== "value" || sequence.isFinal(place.entry)) continue;
      sequence.ensure(place.wants);
      sequence.add(values("system", [place.entry]));
    }
  return sequence.passes;
}

/** Addresses of the values that a restore sends; the others stand so without a word. */
export const sentPlaces = (settled: Settled, release: Firmware, starter?: string): ReadonlySet<string> =>
  new Set(
    passesOf(settled, release, starter)
      .flat()
      .flatMap((sending) => (sending.kind === "values" ? sending.entries.map(addressId) : [])),
  );
