import type { SettingDefinition } from "@/core/catalog/definition";
import type { Value } from "@/core/config";

/** The defaults of targets under a change of what values are written as. */
export const defaultsUnder = (
  { defaultByTarget }: SettingDefinition,
  change: (value: Value) => Value,
): Pick<SettingDefinition, "defaultByTarget"> =>
  defaultByTarget === undefined
    ? {}
    : {
        defaultByTarget: Object.fromEntries(
          Object.entries(defaultByTarget).map(([target, value]) => [target, change(value)]),
        ),
      };
