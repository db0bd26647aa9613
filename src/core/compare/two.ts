import { columnsOf, defaultOf, indexOf, releaseTitle, rowsFly, slotsOf, type Catalogue } from "@/core/catalog";
import { arrive, placeText, settingHead, type Arrived, type Compared } from "@/core/compare/carry";
import { doubtsOf, equalValues, showValue, type Value, type ValueType } from "@/core/config";
import {
  activeEntry,
  activeSide,
  type Comparison,
  type Difference,
  type IdentityDifference,
  openSide,
  type SideValue,
} from "@/core/compare/difference";
import { matchProfiles } from "@/core/compare/likeness";
import {
  resolve,
  rowDoubtOf,
  unlikeValues,
  type Resolved,
  type ResolvedValue,
  type ValuePair,
} from "@/core/compare/resolved";
import { ok, type Result } from "@/core/problem";

export interface CompareOptions {
  /** Profiles stand for the same by their number, or by how alike they are. */
  readonly profiles?: "number" | "likeness";
}

/**
 * Compares two configurations, the left one as it stands, the right one carried over where it is of another release.
 * Values that a side does not write count as the default of that side's own release.
 */
export function compareTwo(
  left: Compared,
  right: Compared,
  catalogue: Catalogue,
  options: CompareOptions = {},
): Result<Comparison> {
  const here = resolve(left.configuration, left.release);
  const arrived = arrive(right, left.release, catalogue, left.configuration.identity.target);
  if (!arrived.ok) return arrived;
  const { renumbered, notes } =
    options.profiles === "likeness"
      ? matchProfiles(here, arrived.value.resolved)
      : { renumbered: arrived.value.resolved, notes: [] };
  const there = { ...arrived.value, resolved: renumbered };
  const certain = [left, right].every(({ configuration }) => doubtsOf(configuration).values.length === 0);
  const plain = certain && left.release.id === right.release.id && options.profiles !== "likeness";
  const pairs = plain
    ? unlikeValues(left.configuration, right.configuration, left.release)
    : [...here.values].map(([id, mine]): ValuePair => [id, mine, there.resolved.values.get(id)]);
  const all = [
    ...settingDifferences(pairs, there, left.configuration.identity.target),
    ...rowDifferences(here, there),
    ...activeDifferences(here, there.resolved),
    ...lineDifferences(here, there.resolved),
    ...there.lost,
  ];
  const [differences, personal, behaviour]: [Difference[], Difference[], Difference[]] = [[], [], []];
  const unsure = certain ? [] : openSettings(here, there.resolved);
  for (const difference of all)
    (difference.cause === "unsure"
      ? unsure
      : difference.belongsTo !== "type"
        ? personal
        : difference.cause === "behaviour"
          ? behaviour
          : differences
    ).push(difference);
  return ok({
    identity: identityDifferences(left, right),
    ...(there.route === undefined ? {} : { carried: there.route }),
    differences,
    unsure,
    personal,
    behaviour,
    compared:
      slotsOf(left.release).length +
      new Set([...here.rows.keys(), ...there.resolved.rows.keys()]).size -
      unsure.filter(({ kind }) => kind !== "active").length,
    matched: notes,
    sides: { left: here, right: there.resolved },
  });
}

export function identityDifferences(left: Compared, right: Compared): IdentityDifference[] {
  const [a, b] = [left.configuration.identity, right.configuration.identity];
  const pairs: [IdentityDifference["what"], string, string][] = [
    ["release", releaseTitle(left.release), releaseTitle(right.release)],
    ["build", a.builtOn ?? left.release.builtOn, b.builtOn ?? right.release.builtOn],
    ["target", a.target ?? "not known", b.target ?? "not known"],
    ["board", a.chipId ?? "not known", b.chipId ?? "not known"],
  ];
  return pairs.flatMap(([what, l, r]) => (l === r ? [] : [{ what, left: l, right: r }]));
}

export const sideOf = ({ value, explicit, line }: ResolvedValue, type: ValueType): SideValue => ({
  value,
  shown: showValue(value, type),
  explicit,
  line,
});

/** Settings of which a side does not say what they hold. */
function openSettings(left: Resolved, right: Resolved): Difference[] {
  return slotsOf(left.release).flatMap(({ id, setting, scope }): Difference[] => {
    const [mine, theirs] = [left.open.values.get(id), right.open.values.get(id)];
    if (setting.housekeeping || (!mine && !theirs)) return [];
    const [here, there] = [left.values.get(id), right.values.get(id)];
    return [
      {
        ...settingHead({ id, setting, scope }),
        cause: "unsure",
        ...(mine ? { left: openSide(mine) } : here ? { left: sideOf(here, setting.type) } : {}),
        ...(theirs ? { right: openSide(theirs) } : there ? { right: sideOf(there, setting.type) } : {}),
        why: [...new Set([mine, theirs].flatMap((doubt) => (doubt ? [doubt.reason] : [])))],
      },
    ];
  });
}

function settingDifferences(pairs: readonly ValuePair[], right: Arrived, target: string | undefined): Difference[] {
  const differences: Difference[] = [];
  for (const [id, mine, theirs] of pairs) {
    const { setting, scope } = mine;
    if (setting.housekeeping || right.resolved.open.values.has(id)) continue;
    const note = right.behaviour.get(id);
    const equal = theirs !== undefined && equalValues(mine.value, theirs.value, setting.type);
    if (equal && note === undefined) continue;
    if (theirs === undefined && !mine.explicit && right.fresh.has(id)) continue;
    const reasons = right.why.get(id) ?? NOTHING;
    const left = {
      id,
      kind: "setting" as const,
      title: setting.title,
      place: placeText(scope, setting.key),
      area: setting.area,
      says: setting.says,
      flies: setting.flies,
      belongsTo: setting.belongsTo,
      left: sideOf(mine, setting.type),
      cause: theirs ? causeOf(equal, mine, theirs, { right, target }) : ("only-left" as const),
      why: note === undefined ? reasons : [...reasons, note],
    };
    differences.push(theirs ? { ...left, right: sideOf(theirs, setting.type) } : left);
  }
  return differences;
}

const NOTHING: readonly string[] = [];

/** What else a cause depends on: how the right side came here, and the target on the left. */
interface Around {
  readonly right: Arrived;
  readonly target: string | undefined;
}

function causeOf(equal: boolean, mine: ResolvedValue, theirs: ResolvedValue, around: Around): Difference["cause"] {
  if (equal) return "behaviour";
  return isMovedDefault(mine, theirs, around) ? "default-moved" : "set";
}

/** Neither side was set by hand, and they differ: the default moved between the two releases. */
const isMovedDefault = (mine: ResolvedValue, theirs: ResolvedValue, { right, target }: Around) =>
  right.route !== undefined && !theirs.explicit && (!mine.explicit || equalsDefault(mine, target));

const equalsDefault = ({ setting, value }: ResolvedValue, target: string | undefined) =>
  equalValues(value, defaultOf(setting, target), setting.type);

function rowDifferences(left: Resolved, right: Arrived): Difference[] {
  const differences: Difference[] = [];
  const keyed = ({ open }: Resolved) => [...open.rows].flatMap(([id, { key }]) => (key === undefined ? [] : [id]));
  const ids = [left, right.resolved].flatMap((side) => [...side.rows.keys(), ...keyed(side)]);
  for (const id of new Set(ids)) {
    const [mine, theirs] = [left.rows.get(id), right.resolved.rows.get(id)];
    const unsure = openRow(id, left, right.resolved);
    if (unsure) {
      differences.push(unsure);
      continue;
    }
    const row = mine ?? theirs;
    const table = row && indexOf(left.release).tables.get(row.table);
    if (!row || !table) continue;
    const cellOf = (side: typeof mine, name: string, fallback: Value) => side?.cells[name] ?? fallback;
    const columns = columnsOf(table).filter((column) => !table.keys.includes(column));
    const odd = columns.filter(
      (c) =>
        !mine || !theirs || !equalValues(cellOf(mine, c.name, c.default), cellOf(theirs, c.name, c.default), c.type),
    );
    if (odd.length === 0) continue;
    const show = (side: NonNullable<typeof mine>): SideValue => {
      const shown = odd
        .map((c) => `${c.title.toLowerCase()} ${showValue(cellOf(side, c.name, c.default), c.type)}`)
        .join(", ");
      return { value: shown, shown, explicit: side.explicit, line: side.line };
    };
    differences.push({
      id: `row ${id}`,
      kind: "row",
      title: `${table.title} ${row.key}`,
      place: `table ${table.name}`,
      area: table.area,
      says: "",
      flies: rowsFly(table),
      belongsTo: table.belongsTo,
      cause: !theirs ? "only-left" : !mine ? "only-right" : "set",
      ...(mine ? { left: show(mine) } : {}),
      ...(theirs ? { right: show(theirs) } : {}),
      why: right.why.get(`row ${id}`) ?? [],
    });
  }
  return differences;
}

/** A row of which a side does not say whether it is there, or what it says. */
function openRow(id: string, left: Resolved, right: Resolved): Difference | undefined {
  const row = left.rows.get(id) ?? right.rows.get(id) ?? left.open.rows.get(id) ?? right.open.rows.get(id);
  const table = row && indexOf(left.release).tables.get(row.table);
  if (!row || !table) return undefined;
  const place = { table: row.table, key: row.key ?? "" };
  const side = (of: Resolved): SideValue | undefined => {
    const there = of.rows.get(id);
    if (!there) {
      const doubt = rowDoubtOf(of, place);
      return doubt && openSide(doubt);
    }
    const shown = table.columns
      .map((c) => `${c.title.toLowerCase()} ${showValue(there.cells[c.name] ?? c.default, c.type)}`)
      .join(", ");
    return { value: shown, shown, explicit: there.explicit, line: there.line };
  };
  const [mine, theirs] = [side(left), side(right)];
  const reasons = [mine?.doubt, theirs?.doubt].filter((reason) => reason !== undefined);
  if (reasons.length === 0) return undefined;
  return {
    id: `row ${id}`,
    kind: "row",
    title: `${table.title} ${place.key}`,
    place: `table ${table.name}`,
    area: table.area,
    says: "",
    flies: rowsFly(table),
    belongsTo: table.belongsTo,
    cause: "unsure",
    ...(mine ? { left: mine } : {}),
    ...(theirs ? { right: theirs } : {}),
    why: [...new Set(reasons)],
  };
}

function activeDifferences(left: Resolved, right: Resolved): Difference[] {
  return left.release.profiles.flatMap(({ kind, title }): Difference[] => {
    const [mine, theirs] = [left.active[kind], right.active[kind]];
    if (mine === theirs && mine !== undefined) return [];
    const side = (value: number | undefined) => activeSide(kind, value);
    return [
      {
        ...activeEntry(kind, title),
        cause: mine === undefined || theirs === undefined ? "unsure" : "set",
        left: side(mine),
        right: side(theirs),
        why: [],
      },
    ];
  });
}

/** Lines that nobody understands: on one side only, they are a difference; nothing says what they do. */
function lineDifferences(left: Resolved, right: Resolved): Difference[] {
  const texts = (side: Resolved) => new Set(side.unknown.map((line) => line.text.trim()));
  const [mine, theirs] = [texts(left), texts(right)];
  const item = (line: Resolved["unknown"][number], side: "left" | "right"): Difference => ({
    id: `${side} line ${line.line}`,
    kind: "line",
    title: line.text.trim().slice(0, 80),
    place: `line ${line.line}`,
    area: "lines",
    says: "",
    flies: false,
    belongsTo: "type",
    cause: side === "left" ? "only-left" : "only-right",
    [side]: { value: line.text, shown: line.text.trim().slice(0, 80), explicit: true, line: line.line },
    why: [line.reason],
  });
  return [
    ...left.unknown.filter((line) => !theirs.has(line.text.trim())).map((line) => item(line, "left")),
    ...right.unknown.filter((line) => !mine.has(line.text.trim())).map((line) => item(line, "right")),
  ];
}
