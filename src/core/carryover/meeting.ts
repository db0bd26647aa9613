import { indexOf, kindOf, type Firmware, type PassageRule, type SettingDefinition } from "@/core/catalog";
import {
  equalValues,
  isOfKind,
  profileOf,
  showValue,
  type ScopeId,
  type Value,
  type ValueDoubt,
  type ValueType,
} from "@/core/config";
import { endedFor, type Traveller } from "@/core/carryover/pass";

/** Where a value began: as the source has it, or its release's default. */
export interface Origin {
  readonly definition: SettingDefinition;
  readonly value: Value;
  readonly line: number;
  readonly moved: boolean;
  readonly scope: ScopeId;
  /** The read-out leaves it open: `value` is what it would be, or the default. */
  readonly doubt?: ValueDoubt;
}

/** A value on its way, with where it began, and other set values that came to its place and wait for a person with it. */
export interface Travelling {
  readonly origin: Origin;
  readonly traveller: Traveller;
  readonly rivals?: readonly Travelling[];
  /** What its setting was called before the hop that it is on. */
  readonly came?: string;
}

/** What a meeting is judged by. */
export interface Meeting {
  readonly rules: readonly PassageRule[];
  readonly release: Firmware;
  /** Kinds of which the read-out leaves open which profile is active. */
  readonly openKinds: readonly string[];
}

const isSet = ({ origin }: Travelling) => origin.moved || origin.doubt !== undefined;

/** A profile that may be the active one counts like one that was set. */
const mayFly = ({ origin }: Travelling, { openKinds }: Meeting) =>
  openKinds.includes(profileOf(origin.scope)?.kind ?? "");

const alike = (a: Traveller, b: Traveller, type: ValueType) =>
  a.lost === undefined &&
  b.lost === undefined &&
  isOfKind(a.value, type) &&
  isOfKind(b.value, type) &&
  equalValues(a.value, b.value, type);

/** The rule that brings several settings under one key. */
const joining = (key: string, rules: readonly PassageRule[]) =>
  rules.find((rule) => {
    const { join, becomes } = kindOf(rule);
    return join !== undefined && becomes?.(rule)?.includes(key);
  });

/** In the order of the rule's own keys, not of the text. */
function inOrder(candidates: readonly Travelling[], rule: PassageRule | undefined): readonly Travelling[] {
  if (!rule) return candidates;
  const keys = kindOf(rule).keys(rule);
  const place = ({ came = "" }: Travelling) => keys.indexOf(came);
  return candidates.toSorted((a, b) => place(a) - place(b));
}

function chosenOf(candidates: readonly Travelling[], rule: PassageRule | undefined): Travelling | undefined {
  const known = candidates.filter(({ traveller }) => traveller.lost === undefined);
  const able = known.length > 0 ? known : candidates;
  const { join } = rule ? kindOf(rule) : { join: undefined };
  if (!rule || !join) return able[0];
  return able[
    join(
      rule,
      able.map(({ traveller }) => traveller.value),
    )
  ];
}

/** What stands beside another is told as such on its way only; after it all are alike. */
function settled({ origin, traveller }: Travelling): Travelling {
  const { scope, key, value, trail, loss, change, retired, behaviour, lost } = traveller;
  if (!traveller.beside) return { origin, traveller };
  return {
    origin,
    traveller: {
      ...{ scope, key, value, trail, loss },
      ...(change === undefined ? {} : { change }),
      ...(retired === undefined ? {} : { retired }),
      ...(behaviour === undefined ? {} : { behaviour }),
      ...(lost === undefined ? {} : { lost }),
    },
  };
}

const withoutFlag = (one: Travelling): Travelling => ({
  ...settled(one),
  ...(one.rivals ? { rivals: one.rivals } : {}),
});

/**
 * Of the values that came to one place: the one that goes there, with the set values that differ from it and wait for a
 * person beside it; and the others, which end. A value that somebody set never loses to one that nobody set.
 */
export function met(candidates: readonly Travelling[], meeting: Meeting): readonly Travelling[] {
  const [only] = candidates;
  if (!only) return [];
  if (candidates.length === 1) return [withoutFlag(only)];
  const { release, rules } = meeting;
  const setting = indexOf(release).settings.get(only.traveller.key);
  if (!setting) return candidates;
  const rule = joining(setting.key, rules);
  const going = candidates.filter(({ traveller }) => !traveller.beside);
  const mains = inOrder(going.length > 0 ? going : candidates, rule);
  const set = mains.filter(isSet);
  // what is not known may have been the one that counts
  const first = set.find(({ origin }) => origin.doubt) ?? chosenOf(set.length > 0 ? set : mains, rule);
  if (!first) return candidates;
  const differs = (one: Travelling) => one !== first && !alike(one.traveller, first.traveller, setting.type);
  const rivals = candidates.filter(
    (one) => differs(one) && (isSet(one) || (one.traveller.beside === true && mayFly(one, meeting))),
  );
  const others = candidates.filter((one) => one !== first && !rivals.includes(one));
  // what waited with any of them waits with the one that goes there
  const waiting = candidates.flatMap((one) => one.rivals ?? []);
  const all = [...rivals, ...waiting].map(settled);
  return [
    { ...settled(first), ...(all.length > 0 ? { rivals: all } : {}) },
    ...others.map((one) => ({ ...withoutFlag(one), traveller: aside(one, first, release) })),
  ];
}

/** One that does not count there. Nothing is lost where it is the same, or where nobody set it. */
function aside(one: Travelling, counts: Travelling, release: Firmware): Traveller {
  const { traveller } = one;
  const setting = indexOf(release).settings.get(counts.traveller.key);
  if (!setting) return traveller;
  const { title, type } = setting;
  if (alike(traveller, counts.traveller, type))
    return { ...endedFor(traveller, `Another value brings the same to “${title}”`), loss: traveller.loss };
  const why = `“${title}” has one value for several that were: ${showValue(counts.traveller.value, type)}`;
  const ended = endedFor(traveller, why);
  return isSet(one) ? ended : { ...ended, loss: traveller.loss };
}

/** The values that wait with one, where they come to its place as well. */
export const rivalsAt = (rivals: readonly Travelling[], { scope, key }: Traveller): readonly Travelling[] =>
  rivals.filter(
    ({ traveller }) => traveller.retired === undefined && traveller.scope === scope && traveller.key === key,
  );
