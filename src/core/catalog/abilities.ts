import { inconsistent, laterCell, NO_WAY } from "@/core/catalog/later";
import { passStarter } from "@/core/catalog/inherit";
import { laterColumn } from "@/core/catalog/passing";
import type { Ability, Release } from "@/core/catalog/release";
import { columnNamed, type PassageRule } from "@/core/catalog/rules";
import { limitValue, type Value, type ValueType } from "@/core/config";
import type { Problem } from "@/core/problem";

type Named = Pick<Release, "settings" | "tables" | "profiles">;

const fits = (value: Value, type: ValueType) => JSON.stringify(limitValue(value, type)) === JSON.stringify(value);

/** What an ability names and the release does not have. */
export function abilityFault(ability: Ability, { settings, tables }: Named): Problem | undefined {
  const odd = (detail: string) =>
    inconsistent("An ability names what the release does not have", `abilities/${ability.id}`, detail);
  for (const { key, values } of ability.settings) {
    const setting = settings.find((each) => each.key === key);
    if (!setting) return odd(key);
    const bad = values.find((value) => !fits(value, setting.type));
    if (bad !== undefined) return odd(`${key}: ${String(bad)}`);
  }
  const { lever } = ability;
  if (!lever) return undefined;
  const table = tables.find(({ name }) => name === lever.table);
  if (!table) return odd(lever.table);
  for (const [name, value] of Object.entries(lever.cells)) {
    const column = columnNamed(table, name);
    if (!column || !fits(value, column.type)) return odd(`${lever.table}/${name}: ${String(value)}`);
  }
  const channel = columnNamed(table, lever.channel);
  return channel?.type.kind === "number" ? undefined : odd(`${lever.table}/${lever.channel}`);
}

/** An ability in the words of a later release. */
function passAbility(
  ability: Ability,
  rules: readonly PassageRule[],
  ancestor: Pick<Release, "settings">,
  release: Named,
): Ability {
  const { lever } = ability;
  return {
    ...ability,
    settings: ability.settings.map(({ key, values, why }) => {
      const passed = values.flatMap(
        (value) => passStarter({ scope: "system", key, value }, rules, ancestor.settings, release)[0] ?? [],
      );
      return { key: passed[0]?.key ?? key, values: passed.map(({ value }) => value), why };
    }),
    ...(lever
      ? {
          lever: {
            ...lever,
            channel: laterColumn(lever.table, lever.channel, rules),
            cells: Object.fromEntries(
              Object.entries(lever.cells).map(([column, value]) => [
                laterColumn(lever.table, column, rules),
                laterCell(lever.table, column, value, rules, NO_WAY),
              ]),
            ),
          },
        }
      : {}),
  };
}

/** An ancestor's abilities in the words of this release; one whose settings or words have ended is none of its own. */
export const passAbilities = (
  ancestor: Pick<Release, "settings" | "abilities">,
  rules: readonly PassageRule[],
  release: Named,
): Ability[] =>
  ancestor.abilities
    .map((ability) => passAbility(ability, rules, ancestor, release))
    .filter((ability) => ability.settings.every(({ values }) => values.length > 0))
    .filter((ability) => abilityFault(ability, release) === undefined);
