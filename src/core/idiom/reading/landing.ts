import type { SettingDefinition } from "@/core/catalog";
import { parseValue, profileScope, type ScopeId, type UnknownLine } from "@/core/config";
import type { OpenRow, Reading } from "@/core/idiom/reading/certainty";
import type { Idiom } from "@/core/idiom/definition/definition";
import type { KeyIndex } from "@/core/idiom/reading/places";
import type { InlinePlace } from "@/core/idiom/reading/statement";

/** A configuration while it is read: what was taken, and where what comes next lands. */
export interface Building extends Reading {
  readonly idiom: Idiom;
  readonly keys: KeyIndex;
  /** The settings of the values, in their turn. */
  readonly settingOf: KeyIndex["find"];
  readonly unknown: UnknownLine[];
  readonly active: Record<string, number>;
  /** Profile in which values of a kind land: the last one chosen. */
  readonly selected: Record<string, number>;
  /** In idioms with headings: the profile that the last heading named. */
  heading: { readonly kind: string; readonly number: number } | undefined;
  /** Where the headings stand that are still open, in languages that close them. */
  readonly open: Pick<Building, "row" | "heading" | "table">[];
  /** A line was lost that may have been the heading of what stands here. */
  headBroken: boolean;
  /** Rows that are said cell by cell, by table and key. */
  readonly byCells: Map<string, OpenRow>;
  /** The line of the last heading of each profile. */
  readonly headed: Map<string, number>;
  /** Where values land here, by kind; worked out once for each stretch of lines. */
  landings: Record<string, Landing>;
  /** Statements that said something, up to this one. */
  spoken: number;
  /** Flags said one by one, by the address of their setting. */
  readonly members: Map<string, ToldFlags>;
}

/** What a text says of one set of flags, flag by flag. */
export interface ToldFlags {
  readonly setting: SettingDefinition;
  readonly scope: ScopeId;
  readonly certain: boolean;
  readonly on: Map<string, boolean>;
  readonly line: number;
  raw: string;
  /** It says of a flag that it is set, and that it is not. */
  torn: boolean;
  /** Turn, among the statements that say something, of the flag that was said last. */
  last: number;
  /** Something that says something else stands between two of its flags. */
  apart: boolean;
}

export interface Landing {
  readonly scope: ScopeId;
  readonly certain: boolean;
}
export const SYSTEM: Landing = { scope: "system", certain: true };

/** Why a statement was not taken, and where it would have gone. */
export type Unkept = { readonly reason: string; readonly scope: ScopeId } | undefined;
export const lost = (reason: string, scope: ScopeId = "system"): Unkept => ({ reason, scope });

/** Where a line's own words put its value; undefined where it has none, or the reason why it cannot be there. */
function ownLanding(
  { release }: Building,
  setting: SettingDefinition,
  place: InlinePlace | undefined,
): Landing | string | undefined {
  if (!place) return undefined;
  const profile = release.profiles.find(({ kind }) => kind === setting.scope);
  if (!profile) return `${setting.title} is of no profile`;
  if (place.profile !== undefined && place.profile !== profile.kind)
    return `${setting.title} is of ${profile.kind}, not of ${place.profile}`;
  if (place.number < 1 || place.number > profile.count) return "There is no such profile";
  return { scope: profileScope(profile.kind, place.number), certain: true };
}

/** Where a value lands: where its own line says, else where the lines before it lead; or why nowhere. */
export function landing(
  building: Building,
  setting: SettingDefinition,
  place: InlinePlace | undefined,
): Landing | string {
  return (
    ownLanding(building, setting, place) ?? (building.landings[setting.scope] ??= landingOf(building, setting.scope))
  );
}

/** The profile that values of a kind land in, and whether that is certain. */
export function landingOf(building: Building, kind: string): Landing {
  if (kind === "system") return SYSTEM;
  const { selected, idiom, heading, vouched, sure, brokenAt, highest, outOfOrderFrom } = building;
  const number = selected[kind] ?? 1;
  const scope = profileScope(kind, number);
  const single = building.release.profiles.find((profile) => profile.kind === kind)?.count === 1;
  if (vouched || single) return { scope, certain: true };
  const said = idiom.style === "statement" ? selected[kind] !== undefined : heading?.kind === kind;
  // under a heading of something else: lines of two places are mixed, and no heading is certain to be its lines' own
  if (!said && brokenAt === 0 && idiom.style !== "statement") outOfOrderFrom.set(kind, 1);
  const certain = said && (brokenAt === 0 || sure.has(kind));
  // consoles give profiles in ascending order: where they do not, lines have changed their places
  if (certain && number < (highest.get(kind) ?? 0))
    outOfOrderFrom.set(kind, Math.min(number, outOfOrderFrom.get(kind) ?? Infinity));
  return { scope, certain };
}

/** A setting's value in a part of the text that speaks of the read-out itself: it came from another place. */
export function straysIn(building: Building, key: string, text: string, line: number, raw: string): void {
  const setting = building.vouched ? undefined : building.keys.find(key);
  if (!setting) return;
  const { scope } = landingOf(building, setting.scope);
  const value = parseValue(text, setting.type, building.idiom.spelling);
  const reason = "It stands in a part of the text that holds no settings";
  building.loose.push({
    setting,
    scope,
    placed: false,
    raw,
    line,
    reason,
    ...(value.ok ? { value: value.value } : {}),
  });
}
