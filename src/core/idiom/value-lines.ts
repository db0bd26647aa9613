import type { Release, SettingDefinition } from "@/core/catalog";
import { profileOf, type ScopeId, type Value } from "@/core/config";
import { says, type LineForm } from "@/core/idiom/definition";
import { mute, settingOf, type Filled, type Forms } from "@/core/idiom/forms";
import type { WrittenValue } from "@/core/idiom/line-writer";
import { keyIndex, type KeyIndex } from "@/core/idiom/places";
import { profileName } from "@/core/idiom/statement";

/** Several settings that stand in one value: “key.1” to “key.3” as “key”. */
interface ListedValues {
  readonly base: string;
  readonly values: readonly WrittenValue[];
}

/** Writes the lines of values: one each, flags one by one, or several in one list, as the language has it. */
export class ValueLines {
  private readonly keys: KeyIndex;
  private readonly list: LineForm | undefined;
  /** Values of the system say their area themselves. */
  readonly saysArea: boolean;

  constructor(
    private readonly release: Release,
    private readonly forms: Forms,
  ) {
    this.keys = keyIndex(release, forms.idiom);
    this.list = forms.find("set", {}, (form) => form.list !== undefined);
    this.saysArea = forms.find("set", {}, (form) => says(form, "area")) !== undefined;
  }

  /** Whether a value of this kind of profile says its place itself. */
  saysPlace(kind: string): boolean {
    return this.forms.find("set", { profile: kind }, (form) => says(form, "number")) !== undefined;
  }

  lines(scope: ScopeId, area: string, written: readonly WrittenValue[]): string[] {
    const lines: string[] = [];
    for (let i = 0; i < written.length;) {
      const listed = this.listedAt(written, i);
      const value = written[i];
      if (listed) {
        lines.push(this.listLine(scope, area, listed));
        i += listed.values.length;
      } else {
        if (value) lines.push(...this.oneValue(scope, area, value));
        i++;
      }
    }
    return lines;
  }

  private placeOf(scope: ScopeId, area: string): { readonly fields: Filled; readonly inline: boolean } {
    const profile = profileOf(scope);
    if (!profile) return { fields: { area }, inline: false };
    const fields = { profile: profile.kind, number: profileName(profile.number, this.forms.idiom), area };
    return { fields, inline: this.saysPlace(profile.kind) };
  }

  private oneValue(scope: ScopeId, area: string, { key, value }: WrittenValue): string[] {
    const setting = settingOf(this.release, key);
    const { fields, inline } = this.placeOf(scope, area);
    const name = this.keys.write(setting);
    const fits = (form: LineForm) => form.list === undefined && says(form, "number") === inline;
    const flags = this.flagLines(setting, value, { ...fields, key: name }, fits);
    if (flags) return flags;
    const said = { ...fields, key: name, value: this.forms.value(value, setting.type) };
    return [this.forms.need("set", said, fits)];
  }

  /** A set of flags one by one: what is set, and where the language says so what is not. */
  private flagLines(
    { type }: SettingDefinition,
    value: Value,
    fields: Filled,
    fits: (form: LineForm) => boolean,
  ): string[] | undefined {
    const { forms } = this;
    if (type.kind !== "flags" || forms.idiom.members === "none") return undefined;
    const set = new Set(value as readonly string[]);
    return type.options.flatMap((member) => {
      const form = forms.find(set.has(member) ? "raise" : "lower", fields, fits);
      if (!form && set.has(member)) throw mute(forms.idiom, "a flag that is set");
      return form ? [forms.say(form, { ...fields, member })] : [];
    });
  }

  /** The settings from a place on that a list takes in one value: two or more, counted through without a gap. */
  private listedAt(written: readonly WrittenValue[], at: number): ListedValues | undefined {
    if (!this.list?.list) return undefined;
    const { join, from = 1 } = this.list.list;
    const first = `${join}${from}`;
    const key = written[at]?.key ?? "";
    if (!key.endsWith(first)) return undefined;
    const base = key.slice(0, -first.length);
    let end = at;
    while (written[end]?.key === `${base}${join}${from + end - at}`) end++;
    return end - at < 2 ? undefined : { base, values: written.slice(at, end) };
  }

  private listLine(scope: ScopeId, area: string, { base, values }: ListedValues): string {
    const { fields, inline } = this.placeOf(scope, area);
    const mark = this.list?.list?.mark ?? ",";
    const words = values.map(({ key, value }) =>
      this.forms.value(value, settingOf(this.release, key).type, mark.trim()),
    );
    return this.forms.need(
      "set",
      { ...fields, key: base, values: words.join(mark) },
      (form) => form.list !== undefined && says(form, "number") === inline,
    );
  }
}
