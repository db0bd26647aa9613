import { aircraftAction, partsBehind, type Wish } from "@/core/job/action";
import { reached, shownBehind } from "@/core/job/actions/open-line";
import { ANY, YES } from "@/core/job/fact";

const fedByBattery = (wish: Wish) => partsBehind(wish).filter(({ supply }) => supply === "battery");
const whereFed = (wish: Wish) => (fedByBattery(wish).length > 0 ? (["aircraft"] as const) : []);
const kinds = (wish: Wish) => [...new Set(fedByBattery(wish).map(({ part }) => part))].join(" and ");

export const fitBattery = aircraftAction(
  "fit-battery",
  (wish) => ({
    title: "Battery in",
    why: `The ${kinds(wish)} have no other supply. The line is open already: nothing else reaches them.`,
    needs: { "aircraft: propellers off": YES, "main: line": ANY },
    gives: { "aircraft: battery in": YES, ...reached(wish, { supply: "battery" }) },
    undoes: ["aircraft: battery out"],
    hands: 1,
  }),
  undefined,
  { subjects: whereFed },
);

export const takeBattery = aircraftAction(
  "take-battery",
  (wish) => ({
    title: "Battery out",
    why: "The line closes only when nothing behind it has its supply.",
    needs: { "aircraft: battery in": YES },
    gives: { "aircraft: battery out": YES },
    undoes: ["aircraft: battery in", ...shownBehind(wish, { supply: "battery" })],
    hands: 1,
  }),
  undefined,
  { subjects: whereFed },
);
