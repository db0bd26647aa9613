import type { SettingDefinition } from "@/core/catalog/definition";
import type { Value } from "@/core/config";

/** The values that a definition holds besides its default, under a change of what values are written as. */
export const definedUnder = (
  { defaultByTarget, doneBy }: SettingDefinition,
  change: (value: Value) => Value,
): Pick<SettingDefinition, "defaultByTarget" | "doneBy"> => ({
  ...(defaultByTarget === undefined
    ? {}
    : {
        defaultByTarget: Object.fromEntries(
          Object.entries(defaultByTarget).map(([target, value]) => [target, change(value)]),
        ),
      }),
  ...(doneBy === undefined ? {} : { doneBy: { ...doneBy, value: change(doneBy.value) } }),
});
