import { releaseTitle, scopesOf } from "@/core/catalog";
import { addressId, parseValue, type ScopeId } from "@/core/config";
import { landing, lost, type Building, type Unkept } from "@/core/idiom/reading/landing";
import { settingUnder } from "@/core/idiom/reading/places";
import type { Statement } from "@/core/idiom/reading/statement";

/** Takes up that one flag of a set is there, or is not. */
export function takeMember(
  building: Building,
  { key, member, on, place, under }: Extract<Statement, { kind: "member" }>,
  line: number,
  raw: string,
): Unkept {
  const { release, idiom, members } = building;
  const { setting, joined } = settingUnder(key, under, building.keys.find);
  if (!setting) return lost(`${releaseTitle(release)} has no setting of this name`);
  const land = landing(building, setting, place);
  if (typeof land === "string") return lost(land);
  const { scope } = land;
  const certain = land.certain && !(joined && building.headBroken);
  if (setting.type.kind !== "flags") return lost(`${setting.title} is no set of flags`, scope);
  // one flag is said by its word, whatever a whole set of them is
  const word = parseValue(member, setting.type, { ...idiom.spelling, flagsAsBits: false });
  const flag = word.ok && Array.isArray(word.value) ? (word.value as readonly string[])[0] : undefined;
  building.table = undefined;
  if (flag === undefined) {
    const reason = word.ok ? "It names no flag" : word.problem.message;
    building.loose.push({ setting, scope, placed: certain, raw, line, reason });
    return lost(reason, scope);
  }
  const id = addressId({ scope, key: setting.key });
  const before = members.get(id);
  if (!before)
    members.set(id, {
      setting,
      scope,
      certain,
      on: new Map([[flag, on]]),
      line,
      last: building.spoken,
      raw,
      torn: false,
      apart: false,
    });
  else {
    before.torn ||= before.on.has(flag) && before.on.get(flag) !== on;
    before.apart ||= building.spoken > before.last + 1;
    before.last = building.spoken;
    before.on.set(flag, on);
    before.raw += `\n${raw}`;
  }
  return undefined;
}

/** Sets of flags that were said flag by flag: whole where each flag was said, or where only what is set is said at all. */
export function settleMembers(building: Building): void {
  const { idiom, members, release, settings, vouched, movedOnly, loose } = building;
  if (idiom.members === "none") return;
  for (const { setting, scope, certain, on, line, raw, torn, apart } of members.values()) {
    const options = setting.type.kind === "flags" ? setting.type.options : [];
    const silent = idiom.members === "both" ? options.filter((option) => !on.has(option)) : [];
    const value = options.filter((option) => on.get(option) === true);
    if (certain && (vouched || (!torn && !apart && silent.length === 0)))
      settings.push({ scope, key: setting.key, value, raw, line });
    else {
      const reason = !certain
        ? "The line that says which profile it is of could not be read"
        : torn
          ? "It says of a flag that it is set, and that it is not"
          : apart
            ? "Its flags do not stand together: lines of another read-out may be among them"
            : `It does not say whether ${silent.join(", ")} is set`;
      loose.push({ setting, scope, placed: certain, raw, line, reason, ...(certain ? {} : { value }) });
    }
  }
  if (idiom.members === "both" || movedOnly) return;
  // what is not set is not said: nothing of it in a place that is there means that no flag is set
  const held = new Set<ScopeId>(settings.map(({ scope }) => scope));
  for (const setting of release.settings.filter(({ type }) => type.kind === "flags"))
    for (const scope of scopesOf(release, setting))
      if (held.has(scope) && !members.has(addressId({ scope, key: setting.key })))
        settings.push({ scope, key: setting.key, value: [], raw: "", line: 0 });
}
