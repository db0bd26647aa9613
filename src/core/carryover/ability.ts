import { cellText, columnNamed, indexOf, type Ability, type Firmware, type TableDefinition } from "@/core/catalog";
import { addressId, equalValues, rowId, showValue, type Value } from "@/core/config";
import type { Choice, Plan, PlanItem, RowItem, RowPlace, SettingItem } from "@/core/carryover/plan";
import { ok, refuse, type Result } from "@/core/problem";

const RULE = "ability";
/** So many free channels are offered for a lever. */
const MOST_CHANNELS = 6;

const isRowOf = (item: PlanItem, table: string): item is RowItem & { readonly to: RowPlace } =>
  item.kind === "row" && item.table === table && item.to !== undefined;

/** Whether a plan's rows hold a lever's position for an ability already. */
const hasLever = (plan: Plan, { table, cells }: NonNullable<Ability["lever"]>, { columns }: TableDefinition): boolean =>
  plan.items.some(
    (item) =>
      isRowOf(item, table) &&
      Object.entries(cells).every(([name, value]) => {
        const column = columns.find((each) => each.name === name);
        return column !== undefined && equalValues(item.to.cells[name] ?? column.default, value, column.type);
      }),
  );

/** The first key of a table that no row of a plan has; undefined where it is full, or its rows are not counted. */
function freeKey(plan: Plan, { name, keys, maxRows }: TableDefinition): string | undefined {
  const [key] = keys;
  const taken = new Set(plan.items.flatMap((item) => (isRowOf(item, name) ? [item.to.key] : [])));
  if (keys.length !== 1 || key?.type.kind !== "number" || taken.size >= maxRows) return undefined;
  const { min, max } = key.type;
  for (let no = min; no <= max; no++) if (!taken.has(String(no))) return String(no);
  return undefined;
}

/** The position of a lever that an ability wants, on each of the channels that are free: which one, only a person knows. */
function leverItem(plan: Plan, { id, title, lever }: Ability, to: Firmware): Result<RowItem | undefined> {
  const table = lever && indexOf(to).tables.get(lever.table);
  if (!table || hasLever(plan, lever, table)) return ok(undefined);
  const channel = columnNamed(table, lever.channel);
  const key = freeKey(plan, table);
  if (channel?.type.kind !== "number" || key === undefined)
    return refuse({
      code: "ability-lever",
      message: `There is no room for a lever: “${title}”`,
      detail: `The table “${table.title}” holds ${table.maxRows} rows, and all are in use`,
      hint: "Take a row out of it first",
    });
  const { min, max, step } = channel.type;
  const used = plan.items.flatMap((item) =>
    isRowOf(item, table.name) ? [item.to.cells[channel.name] ?? channel.default] : [],
  );
  const free: number[] = [];
  for (let no = min; no <= max && free.length < MOST_CHANNELS; no += step) if (!used.includes(no)) free.push(no);
  const placed = (no: number): RowPlace => {
    const cells: Record<string, Value> = Object.fromEntries(table.columns.map(({ name, default: d }) => [name, d]));
    return { key, cells: { ...cells, ...lever.cells, [channel.name]: no } };
  };
  const choices = free.map((no): Choice => {
    const row = placed(no);
    const rest = table.columns.filter(({ name }) => name !== channel.name && !(name in lever.cells));
    return {
      id: `channel-${no}`,
      label: `${channel.title} ${no}`,
      row,
      means: `${rest.map((column) => `${column.title.toLowerCase()} ${cellText(column, row.cells[column.name] ?? column.default)}`).join(", ")}; no other row uses it.`,
    };
  });
  return ok({
    kind: "row",
    id: `ability ${id} ${rowId({ table: table.name, key })}`,
    table: table.name,
    title: table.title,
    area: table.area,
    outcome: "your-call",
    loss: "none",
    reason: lever.why,
    flies: true,
    wanted: true,
    trail: [{ rule: RULE, why: `${title}: ${lever.why}` }],
    choices: [...choices, { id: "leave-out", label: "No lever for it", means: "It is there, and nothing calls it." }],
  });
}

/** One thing that an ability wants, and how it stands. */
export interface AbilityNeed {
  readonly state: "there" | "to-do" | "cannot";
  readonly says: string;
}

/** What an ability wants of settings and levers, by a plan for the release that knows it. */
export function needsOfSettings(plan: Plan, ability: Ability, to: Firmware): AbilityNeed[] {
  const { lever } = ability;
  const table = lever && indexOf(to).tables.get(lever.table);
  const after = withAbility(plan, ability, to);
  const items = after.ok ? new Map(after.value.items.map((item) => [item.id, item])) : undefined;
  const ofSettings = ability.settings.flatMap(({ key, why }): AbilityNeed[] => {
    const id = addressId({ scope: "system", key });
    const before = plan.items.find((item): item is SettingItem => item.kind === "setting" && item.id === id);
    const now = items?.get(id);
    if (!before || now?.kind !== "setting") return [];
    return now === before
      ? [{ state: "there", says: `${before.title}: ${before.to?.shown ?? ""}` }]
      : [
          {
            state: "to-do",
            says: `${before.title}: ${before.to?.shown ?? "nothing"} → ${now.to?.shown ?? ""}. ${why}`,
          },
        ];
  });
  if (!table) return ofSettings;
  const ofLever: AbilityNeed = !after.ok
    ? { state: "cannot", says: [after.problem.message, after.problem.detail].filter(Boolean).join(". ") }
    : hasLever(plan, lever, table)
      ? { state: "there", says: "A lever calls it already" }
      : { state: "to-do", says: `A lever’s position: on which channel, you say on the plan. ${lever.why}` };
  return [...ofSettings, ofLever];
}

/**
 * A plan that brings an ability along: what it wants of settings is set where it is otherwise, with its reason; for its lever
 * somebody chooses a free channel. What is so already stays as it is. Refuses where there is no room.
 */
export function withAbility(plan: Plan, ability: Ability, to: Firmware): Result<Plan> {
  const wanted = new Map(ability.settings.map((each) => [addressId({ scope: "system", key: each.key }), each]));
  const items = plan.items.map((item): PlanItem => {
    const want = item.kind === "setting" ? wanted.get(item.id) : undefined;
    const setting = want && indexOf(to).settings.get(want.key);
    const [value] = want?.values ?? [];
    if (item.kind !== "setting" || !want || !setting || value === undefined) return item;
    const isSo = (now: Value | undefined) =>
      want.values.some((each) => now !== undefined && equalValues(now, each, setting.type));
    if (item.choices.length === 0 && isSo(item.to?.value)) return item;
    const shown = showValue(value, setting.type);
    return {
      ...item,
      outcome: "converted",
      loss: "look",
      reason: `${ability.title}: ${want.why}`,
      to: { scope: "system", key: want.key, value, shown },
      trail: [
        ...item.trail,
        { rule: RULE, why: want.why, ...(item.to ? { before: item.to.shown } : {}), after: shown },
      ],
      choices: [],
      wanted: true,
    } satisfies SettingItem;
  });
  const lever = leverItem(plan, ability, to);
  if (!lever.ok) return lever;
  return ok({ ...plan, items: [...items, ...(lever.value ? [lever.value] : [])] });
}
