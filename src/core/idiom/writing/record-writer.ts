import type { Firmware } from "@/core/catalog";
import { formatValue, profileOf, type Value, type ValueType } from "@/core/config";
import { checkDigits, checkForm } from "@/core/idiom/definition/check";
import { coveredText } from "@/core/idiom/reading/completeness";
import type { Idiom } from "@/core/idiom/definition/definition";
import { mute, settingOf, tableOf } from "@/core/idiom/writing/forms";
import { keyIndex } from "@/core/idiom/reading/places";
import type { LineWriter } from "@/core/idiom/writing/line-writer";
import { profileName } from "@/core/idiom/reading/statement";

/** Profiles in records are numbers, where the language counts. */
function recordNumber(number: number, idiom: Idiom): string | number {
  const name = profileName(number, idiom);
  return /^\d+$/.test(name) ? Number(name) : name;
}

/** A value as JSON has it. */
function jsonValue(value: Value, type: ValueType, idiom: Idiom): unknown {
  if (type.kind === "number" && (idiom.spelling.unit !== undefined || idiom.spelling.decimalMark === ","))
    return formatValue(value, type, idiom.spelling);
  return value;
}

/** One JSON record a line (RFC 8259). */
export function recordWriter(release: Firmware, idiom: Idiom): LineWriter {
  const form = idiom.record;
  if (!form) throw mute(idiom, "a record");
  const keys = keyIndex(release, idiom);
  const { recital } = idiom;
  const record = (section: string, number: string | number, values: Readonly<Record<string, unknown>>): string => {
    const edition = form.edition === undefined ? {} : { [form.edition]: release.edition ?? "" };
    return JSON.stringify({ [form.section]: section, [form.number]: number, ...edition, [form.values]: values });
  };
  return {
    enter: () => [],
    set: (scope, area, values) => {
      if (values.length === 0) return [];
      const holds = Object.fromEntries(
        values.map(({ key, value }) => {
          const setting = settingOf(release, key);
          return [keys.write(setting), jsonValue(value, setting.type, idiom)];
        }),
      );
      const profile = profileOf(scope);
      return [
        profile
          ? record(profile.kind, recordNumber(profile.number, idiom), holds)
          : record(recital.systemSection ?? "", area, holds),
      ];
    },
    leave: () => [],
    saysAcross: () => false,
    across: () => [],
    byKeys: false,
    marksActive: false,
    clear: (table) => [record(table, recital.freshWord ?? "", {})],
    row: (name, key, cells) => {
      const table = tableOf(release, name);
      const holds = Object.fromEntries(
        table.columns.map((c) => [c.name, jsonValue(cells[c.name] ?? c.default, c.type, idiom)]),
      );
      return [record(name, /^\d{1,6}$/.test(key) ? Number(key) : key, holds)];
    },
    activate: (active) => [
      record(
        recital.activeSection ?? "",
        0,
        Object.fromEntries(Object.entries(active).map(([kind, number]) => [kind, recordNumber(number, idiom)])),
      ),
    ],
    facts: (about, facts) => [
      record((about === "identity" ? recital.factsSection : recital.sensesSection) ?? "", 0, Object.fromEntries(facts)),
    ],
    end: (before) => {
      const { endSection } = recital;
      if (!endSection) return [];
      const check =
        endSection.check === undefined
          ? {}
          : { [endSection.check]: checkDigits(coveredText(before, idiom), checkForm("crc32")) };
      return [record(endSection.name, 0, { [endSection.lines]: before.length, ...check })];
    },
  };
}
