import type { Firmware, SettingDefinition } from "@/core/catalog";
import { formatValue, profileOf, type ScopeId, type Value, type ValueType } from "@/core/config";
import { groupBy } from "@/core/group-by";
import { says, type LineForm } from "@/core/idiom/definition/definition";
import type { ListForm } from "@/core/idiom/definition/document";
import { mute, settingOf, type Filled, type Forms } from "@/core/idiom/writing/forms";
import type { WrittenValue } from "@/core/idiom/writing/line-writer";
import { keyIndex, partedKey, type KeyIndex } from "@/core/idiom/reading/places";
import { profileName } from "@/core/idiom/reading/statement";

const isJoined = (list: ListForm | undefined): list is Extract<ListForm, { join: string }> =>
  list !== undefined && "join" in list;

/** Several settings that stand in one value: “key.1” to “key.3” as “key”. */
interface ListedValues {
  readonly base: string;
  readonly values: readonly WrittenValue[];
}

/** Values that stand under one heading, as what their keys begin with. */
export interface KeyGroup {
  readonly head: string;
  readonly lines: readonly string[];
}

/** Writes the lines of values: one each, flags one by one, or several in one list, as the language has it. */
export class ValueLines {
  private readonly keys: KeyIndex;
  private readonly list: Extract<ListForm, { join: string }> | undefined;
  /** Values of the system say their area themselves. */
  readonly saysArea: boolean;

  constructor(
    private readonly release: Firmware,
    private readonly forms: Forms,
  ) {
    this.keys = keyIndex(release, forms.idiom);
    const list = forms.find("set", {}, (form) => isJoined(form.list))?.list;
    this.list = isJoined(list) ? list : undefined;
    this.saysArea = forms.find("set", {}, (form) => says(form, "area")) !== undefined;
  }

  /** Whether a value of this kind of profile says its place itself. */
  saysPlace(kind: string): boolean {
    return this.forms.find("set", { profile: kind }, (form) => says(form, "number")) !== undefined;
  }

  /** The form that says a setting's values in all profiles of a kind. */
  listAcross(kind: string): LineForm | undefined {
    return this.forms.find("set", { profile: kind }, ({ list }) => list !== undefined && "over" in list);
  }

  /** One setting's values in all profiles of a kind, in one line. */
  across(kind: string, key: string, values: readonly Value[]): string[] {
    const form = this.listAcross(kind);
    if (!form?.list) throw mute(this.forms.idiom, "values of several profiles");
    const { mark } = form.list;
    const setting = settingOf(this.release, key);
    const words = values.map((value) => this.inList(value, setting.type, mark));
    return [this.forms.say(form, { profile: kind, key: this.keys.write(setting), values: words.join(mark) })];
  }

  /** Lines of values by what their headings say: those under none first. `place`: what the place itself is called. */
  groups(scope: ScopeId, area: string, written: readonly WrittenValue[], place: string, headed: boolean): KeyGroup[] {
    const { keysUnder } = this.forms.idiom;
    if (!keysUnder) return [{ head: "", lines: this.lines(scope, area, written, "") }];
    const own = place === "" ? "" : place + keysUnder.join;
    const inPlace = (key: string) => (own !== "" && key.startsWith(own) ? own : "");
    const headOf = (key: string) => (headed ? partedKey(key.slice(inPlace(key).length), this.forms.idiom)[0] : "");
    const groups = groupBy(written, ({ key }) => headOf(key));
    return [...groups]
      .toSorted(([a], [b]) => Number(a !== "") - Number(b !== ""))
      .map(([head, values]) => ({
        head,
        lines: [...groupBy(values, ({ key }) => inPlace(key) + (head === "" ? "" : head + keysUnder.join))].flatMap(
          ([beginning, same]) => this.lines(scope, area, same, beginning),
        ),
      }));
  }

  /** Pairs of a name and its value, all of a place in one line; undefined where the language has no such line for it. */
  private pairs(
    scope: ScopeId,
    area: string,
    written: readonly WrittenValue[],
    beginning: string,
  ): string[] | undefined {
    const { fields, inline } = this.placeOf(scope, area);
    const form = this.forms.find(
      "set",
      fields,
      (each) => each.list !== undefined && "pairs" in each.list && says(each, "number") === inline,
    );
    if (!form?.list || !("pairs" in form.list) || written.length === 0) return undefined;
    const { mark, pairs } = form.list;
    const words = written.map(({ key, value }) => {
      const setting = settingOf(this.release, key);
      const name = this.keys.write(setting).slice(beginning.length);
      return name + pairs + this.inList(value, setting.type, mark);
    });
    return [this.forms.say(form, { ...fields, values: words.join(mark) })];
  }

  /** Lines of values whose keys are said without what they begin with. */
  private lines(scope: ScopeId, area: string, written: readonly WrittenValue[], beginning: string): string[] {
    const paired = this.pairs(scope, area, written, beginning);
    if (paired) return paired;
    const lines: string[] = [];
    for (let i = 0; i < written.length;) {
      const listed = this.listedAt(written, i);
      const value = written[i];
      if (listed) {
        lines.push(this.listLine(scope, area, listed, beginning));
        i += listed.values.length;
      } else {
        if (value) lines.push(...this.oneValue(scope, area, value, beginning));
        i++;
      }
    }
    return lines;
  }

  /** A value among others: flags that stand bare elsewhere need quotes here, where what parts them parts the values too. */
  private inList(value: Value, type: ValueType, mark: string): string {
    const between = mark.trim() === "" ? undefined : mark.trim();
    const { spelling } = this.forms.idiom;
    return type.kind === "flags" && spelling.list
      ? this.forms.quoted(formatValue(value, type, spelling), between)
      : this.forms.value(value, type, between);
  }

  private placeOf(scope: ScopeId, area: string): { readonly fields: Filled; readonly inline: boolean } {
    const profile = profileOf(scope);
    if (!profile) return { fields: { area }, inline: false };
    const fields = { profile: profile.kind, number: profileName(profile.number, this.forms.idiom), area };
    return { fields, inline: this.saysPlace(profile.kind) };
  }

  private oneValue(scope: ScopeId, area: string, { key, value }: WrittenValue, beginning: string): string[] {
    const setting = settingOf(this.release, key);
    const { fields, inline } = this.placeOf(scope, area);
    const name = this.keys.write(setting).slice(beginning.length);
    const fits = (form: LineForm) => form.list === undefined && says(form, "number") === inline;
    const flags = this.flagLines(setting, value, { ...fields, key: name }, fits);
    if (flags) return flags;
    const { title, type } = setting;
    const unit = type.kind === "number" ? (type.unit ?? "") : "";
    const said = { ...fields, key: name, value: this.forms.value(value, type), title, unit };
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
    if (!this.list) return undefined;
    const { join, from = 1 } = this.list;
    const first = `${join}${from}`;
    const key = written[at]?.key ?? "";
    if (!key.endsWith(first)) return undefined;
    const base = key.slice(0, -first.length);
    let end = at;
    while (written[end]?.key === `${base}${join}${from + end - at}`) end++;
    return end - at < 2 ? undefined : { base, values: written.slice(at, end) };
  }

  private listLine(scope: ScopeId, area: string, { base, values }: ListedValues, beginning: string): string {
    const { fields, inline } = this.placeOf(scope, area);
    const mark = this.list?.mark ?? ",";
    const words = values.map(({ key, value }) => this.inList(value, settingOf(this.release, key).type, mark));
    return this.forms.need(
      "set",
      { ...fields, key: base.slice(beginning.length), values: words.join(mark) },
      (form) => isJoined(form.list) && says(form, "number") === inline,
    );
  }
}
