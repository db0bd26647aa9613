import { capital } from "@/core/config";
import { batteryAction, partsBehind, type Wish } from "@/core/job/action";
import { reached, shownBehind } from "@/core/job/actions/open-line";
import { batteries, YES, type Facts } from "@/core/job/fact";
import type { Battery } from "@/core/catalog";

const kindsOn = (wish: Wish, which: Battery): string[] => [
  ...new Set(partsBehind(wish).flatMap(({ part, supply }) => (supply === which ? [part] : []))),
];

/** “The speed controllers”, or those of their places where not all of a kind are fed by it. */
function fedBy(wish: Wish, which: Battery): string {
  const all = partsBehind(wish);
  return kindsOn(wish, which)
    .map((kind) => {
      const of = all.filter(({ part }) => part === kind);
      const fed = of.filter(({ supply }) => supply === which);
      return fed.length === of.length ? kind : `${kind} ${fed.map(({ place }) => place).join(", ")}`;
    })
    .join(" and ");
}

/** The line that is open has to lead to what it feeds: only so does anything answer that shows it. */
function lineToFed(wish: Wish, which: Battery): Facts {
  const [kind = "", ...others] = kindsOn(wish, which);
  return others.length > 0 ? { "main: line open": YES } : { "main: line": kind };
}

export const fitBattery = batteryAction("fit-battery", (wish, which) => ({
  title: `${capital(which)} in`,
  why: `The ${fedBy(wish, which)} have no other supply. The line is open already: nothing else reaches them.`,
  needs: { "aircraft: propellers off": YES, ...lineToFed(wish, which) },
  gives: { ...batteries([which], "in"), ...reached(wish, { supply: which }) },
  hands: 1,
}));

export const takeBattery = batteryAction("take-battery", (wish, which) => ({
  title: `${capital(which)} out`,
  why: "The line closes only when nothing behind it has its supply.",
  needs: batteries([which], "in"),
  gives: batteries([which], "out"),
  undoes: shownBehind(wish, { supply: which }),
  hands: 1,
}));
