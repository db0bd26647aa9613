/**
 * What can be so at the bench: of a subject, mostly with a value. There is one value of each at a time: “main: runs” is
 * one release, “board: shows” one face.
 */
export type FactName = `${string}: ${string}`;

/** Facts by name, each with its value; `YES` where being so is all there is to say. */
export type Facts = Readonly<Record<FactName, string>>;
export const YES = "yes";

const holds = (facts: Facts, name: FactName, value: string): boolean =>
  value === ANY ? facts[name] !== undefined : facts[name] === value;

/** In a need: whatever the value is, as long as there is one. */
export const ANY = "*";

/** Which of the wanted facts are not so. */
export const unmet = (facts: Facts, wanted: Facts): FactName[] =>
  namesOf(wanted).filter((name) => !holds(facts, name, wanted[name] ?? YES));

export const namesOf = (facts: Facts): FactName[] => Object.keys(facts) as FactName[];

/** The facts in one text, the same for the same facts whatever order they came in. */
export const keyOf = (facts: Facts): string =>
  namesOf(facts)
    .toSorted()
    .map((name) => `${name}=${facts[name] ?? ""}`)
    .join("\n");

export const tellFact = (name: FactName, value: string): string =>
  value === YES || value === ANY ? name : `${name} ${value}`;
