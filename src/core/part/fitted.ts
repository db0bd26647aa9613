import { mountsOf, type BoardModel, type LineWay, type PartMount, type Release, type Supply } from "@/core/catalog";

/** A part by its kind and the number that the main firmware counts it by. */
export type PartName = `${string} ${number}`;

/** One part of an aircraft, besides its main processor. */
export interface FittedPart extends Omit<PartMount, "places" | "supply"> {
  readonly name: PartName;
  /** By which the main firmware counts it, from 1. */
  readonly no: number;
  readonly place: string;
  readonly supply: Supply;
}

export const partName = (part: string, no: number): PartName => `${part} ${no}`;

/** The kind and the number that a part's name says. */
export function saidByName(name: string): { readonly part: string; readonly no: number } {
  const at = name.lastIndexOf(" ");
  return { part: name.slice(0, at), no: Number(name.slice(at + 1)) };
}

/** The address of a setting, row or fact of a part, among those of the aircraft that it is behind. */
export const partAddress = (name: PartName, id: string): string => `${name}: ${id}`;

/** Whether an address among those of an aircraft is one of a part. */
export const isPartAddress = (address: string): boolean => /^[^/:]+ \d+: /.test(address);

/** The parts that an aircraft has: those that its board carries, and those fitted beside it, which count where both say a kind. */
export function fittedParts(model: Pick<BoardModel, "parts"> | undefined, fitted: readonly PartMount[]): FittedPart[] {
  const own = model ? mountsOf(model).filter(({ part }) => !fitted.some((each) => each.part === part)) : [];
  return [...own, ...fitted].flatMap(({ places, supply, ...mount }) =>
    places.map((place, i) => ({
      ...mount,
      place,
      no: i + 1,
      name: partName(mount.part, i + 1),
      supply: (typeof supply === "string" ? supply : supply[i]) ?? "board",
    })),
  );
}

/** “the speed controller, front left”: a part as people find it. */
export const partTitle = ({ title, place }: Pick<FittedPart, "title" | "place">): string => `the ${title}, ${place}`;

/** How a release opens a line to a kind of part; undefined where it does not. */
export const wayTo = ({ ways }: Pick<Release, "ways">, part: string): LineWay | undefined =>
  ways.find((way) => way.part === part);
