import { indexOf, releaseTitle, type Firmware } from "@/core/catalog";
import { capital, equalValues, settingsByAddress, showValue, type Configuration } from "@/core/config";
import { groupBy } from "@/core/group-by";
import type { FittedPart } from "@/core/part/fitted";

/** A part as it was read. */
export interface ReadPart {
  readonly part: Pick<FittedPart, "name" | "part" | "title" | "place">;
  readonly release: Firmware;
  readonly target: string | undefined;
  readonly configuration: Configuration;
}

/** What one of several parts of a kind has otherwise than the most of them. */
export interface OddOne {
  readonly part: ReadPart["part"];
  /** What differs: the firmware, what it is built for, or a setting by its title. */
  readonly what: string;
  readonly has: string;
  /** What the others have. */
  readonly others: string;
}

/** What most of several have; undefined where none has more than half. */
function mostOf(values: readonly string[]): string | undefined {
  const counts = groupBy(values, (value) => value);
  const best = [...counts].toSorted(([, a], [, b]) => b.length - a.length)[0];
  return best && best[1].length * 2 > values.length ? best[0] : undefined;
}

/**
 * Parts of one kind on an aircraft, held against each other. Where no more than half agree, each is said with what it has.
 * What belongs to the place of one part by its definition (its number, the way it turns) is not held against the others.
 */
export function oddOnes(read: readonly ReadPart[]): OddOne[] {
  return [...groupBy(read, ({ part }) => part.part).values()].flatMap((alike) =>
    alike.length < 2
      ? []
      : [
          ...oddIn(alike, "firmware", ({ release }) => releaseTitle(release)),
          ...oddIn(alike, "built for", ({ target }) => target ?? "not known"),
          ...oddSettings(alike),
        ],
  );
}

/** Which of several are not as the most of them are, by one thing that each has. */
export function oddIn<P extends { readonly part: OddOne["part"] }>(
  alike: readonly P[],
  what: string,
  valueOf: (each: P) => string,
): OddOne[] {
  const values = alike.map(valueOf);
  if (new Set(values).size < 2) return [];
  const most = mostOf(values);
  return alike.flatMap((each, i) => {
    const has = values[i] ?? "";
    return has === most ? [] : [{ part: each.part, what, has, others: most ?? "not the same" }];
  });
}

/** Only those of one release are held against each other: another one says the same otherwise. */
function oddSettings(alike: readonly ReadPart[]): OddOne[] {
  return [...groupBy(alike, ({ release }) => release.id).values()].flatMap((same) => {
    const [first] = same;
    if (!first || same.length < 2) return [];
    return [...indexOf(first.release).settings.values()].flatMap((setting) => {
      if (setting.belongsTo !== "type" || setting.housekeeping) return [];
      const held = same.map(
        ({ configuration }) => settingsByAddress(configuration).get(`system/${setting.key}`)?.value,
      );
      const [one] = held;
      if (one === undefined || held.every((value) => value !== undefined && equalValues(value, one, setting.type)))
        return [];
      return oddIn(same, setting.title, ({ configuration }) => {
        const value = settingsByAddress(configuration).get(`system/${setting.key}`)?.value;
        return value === undefined ? "not read" : showValue(value, setting.type);
      });
    });
  });
}

/** What differs, what it has, and what the others have: in half a sentence. */
export const oddSentence = ({ what, has, others }: OddOne): string => `${capital(what)}: ${has}, the others ${others}`;

/** What is known of the parts of an aircraft, the one thing to know first. */
export function partsSentence(
  parts: readonly { readonly part: Pick<FittedPart, "part" | "title" | "place">; readonly release?: Firmware }[],
  odd: readonly OddOne[],
): string {
  if (parts.length === 0) return "Nothing with firmware of its own is known behind its board.";
  const unread = parts.filter(({ release }) => !release);
  if (unread.length === parts.length) return "None of its parts was ever read out.";
  const [first] = odd;
  if (first) {
    const more = new Set(odd.map(({ part }) => part.name)).size - 1;
    return `The ${first.part.title}, ${first.part.place}, is the odd one out. ${oddSentence(first)}${more > 0 ? `; ${more} more differ` : ""}.`;
  }
  const titles = [...new Set(parts.flatMap(({ release }) => (release ? [releaseTitle(release)] : [])))];
  const rest = unread.length === 0 ? "" : ` ${unread.length} of ${parts.length} were never read out.`;
  return `${titles.join(" and ")}${parts.length > 1 && unread.length === 0 ? ", all alike" : ""}.${rest}`;
}
