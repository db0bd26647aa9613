import type { Battery } from "@/core/catalog";
import { factsIn, identityOf, readStatements, type Idiom } from "@/core/idiom";

/** What a board says it feels: angles in degrees, sticks in µs, battery in volts. What it does not say is absent. */
export interface Reading {
  readonly roll?: number;
  readonly pitch?: number;
  readonly heading?: number;
  readonly receiver?: string;
  readonly battery?: number;
  readonly secondBattery?: number;
  readonly sticks: readonly (number | undefined)[];
  /** What is said of other parts, by their names: “answers” or “silent”. */
  readonly parts: Readonly<Record<string, string>>;
}

/** From this on a battery is taken as fitted, in volts. */
const FITTED_VOLTS = 1;

/** The batteries that a board measures to be in, each with its volts. */
export function batteriesMeasured({ battery = 0, secondBattery = 0 }: Reading): { which: Battery; volts: number }[] {
  const all = [
    { which: "battery", volts: battery },
    { which: "second battery", volts: secondBattery },
  ] as const;
  return all.filter(({ volts }) => volts >= FITTED_VOLTS);
}

/** Reads the answer to a measurement. Words that are no numbers count as not said. */
export function readSenses(text: string, idiom: Idiom): Reading {
  const facts = factsIn(text, idiom);
  const names = idiom.console.senses;
  const number = (name: string): number | undefined => {
    const value = Number(facts.get(name) ?? NaN);
    return Number.isFinite(value) ? value : undefined;
  };
  const plain = {
    roll: number(names.roll),
    pitch: number(names.pitch),
    heading: number(names.heading),
    battery: number(names.battery),
    secondBattery: names.secondBattery === undefined ? undefined : number(names.secondBattery),
    receiver: facts.get(names.receiver),
  };
  return {
    ...(Object.fromEntries(Object.entries(plain).filter(([, v]) => v !== undefined)) as Omit<
      Reading,
      "sticks" | "parts"
    >),
    sticks: names.sticks.map(number),
    parts: Object.fromEntries(
      Object.entries(names.parts ?? {}).flatMap(([part, name]) => {
        const said = facts.get(name);
        return said === undefined ? [] : [[part, said]];
      }),
    ),
  };
}

export const readIdentityFacts = (text: string, idiom: Idiom) => identityOf(readStatements(text, idiom).clauses, idiom);
