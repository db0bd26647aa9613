import { columnNamed, type PassageRule } from "@/core/catalog/rules";
import { inconsistent, laterCell, NO_WAY } from "@/core/catalog/later";
import { laterColumn } from "@/core/catalog/passing";
import type { Picture, PinMap, Release } from "@/core/catalog/release";
import type { Problem } from "@/core/problem";

/** A picture of the pads as documents from before `pins` have it: what the pads are for stands in the drawing. */
type DrawnPads = Extract<Picture, { kind: "pads" }> & Partial<PinMap>;
export type WrittenPicture = Exclude<Picture, { kind: "pads" }> | DrawnPads;

/** The pins that a drawing says; undefined where none does. */
export function pinsDrawn(pictures: readonly WrittenPicture[] = []): PinMap | undefined {
  for (const picture of pictures) {
    if (picture.kind !== "pads") continue;
    const { outputs, ports, nothing = [], mounted, tables } = picture;
    if (outputs && ports)
      return {
        ...{ outputs, ports, nothing },
        ...(mounted === undefined ? {} : { mounted }),
        ...(tables === undefined ? {} : { tables }),
      };
  }
  return undefined;
}

export const asPicture = (picture: WrittenPicture): Picture =>
  picture.kind === "pads" ? { kind: "pads", title: picture.title } : picture;

/** Where the fault of a name lies, and what is wrong with it. */
const lackOf = (what: string, path: string, names: readonly (string | undefined | false)[]): Problem | undefined => {
  const name = names.find((each) => typeof each === "string");
  return typeof name === "string" ? inconsistent(what, path, name) : undefined;
};

/** What the pins of a release name and it does not have. */
export function pinsFault(
  { outputs, ports, nothing, mounted, tables: needed = {} }: PinMap,
  { settings, tables }: Pick<Release, "settings" | "tables">,
): Problem | undefined {
  const columns = [outputs, ports].map(({ table, use }) => {
    const found = tables.find(({ name }) => name === table);
    return found && columnNamed(found, use);
  });
  const words = columns.map((column) => (column?.type.kind === "choice" ? column.type.options : undefined));
  return lackOf("The pins name what the release does not have", "pins", [
    ...[outputs, ports].map(({ table, use }, i) => !columns[i] && `${table}/${use}`),
    mounted !== undefined && !settings.some(({ concept }) => concept?.id === mounted) && mounted,
    Object.values(needed).find((name) => !tables.some((table) => table.name === name)),
    ports.receiver !== undefined && words[1]?.includes(ports.receiver) === false && ports.receiver,
    nothing.find((word) => words.every((each) => each?.includes(word) === false)),
  ]);
}

/** An ancestor's pins in the words of this release; none where what they speak of has ended. */
export function passPins(
  { pins, tables }: Pick<Release, "pins" | "tables">,
  rules: readonly PassageRule[],
  release: Pick<Release, "settings" | "tables">,
): PinMap | undefined {
  if (!pins) return undefined;
  const { outputs, ports } = pins;
  const wordsOf = (place: { readonly table: string; readonly use: string }, word: string) => {
    const table = tables.find(({ name }) => name === place.table);
    const type = table && columnNamed(table, place.use)?.type;
    return type?.kind === "choice" && type.options.includes(word)
      ? [String(laterCell(place.table, place.use, word, rules, NO_WAY))]
      : [];
  };
  const columnFor = ({ table, use }: { readonly table: string; readonly use: string }) =>
    laterColumn(table, use, rules);
  const now: PinMap = {
    ...pins,
    outputs: { ...outputs, use: columnFor(outputs) },
    ports: {
      ...ports,
      use: columnFor(ports),
      ...(ports.receiver === undefined ? {} : { receiver: wordsOf(ports, ports.receiver)[0] ?? ports.receiver }),
    },
    nothing: [...new Set(pins.nothing.flatMap((word) => [...wordsOf(outputs, word), ...wordsOf(ports, word)]))],
  };
  return pinsFault(now, release) === undefined ? now : undefined;
}
