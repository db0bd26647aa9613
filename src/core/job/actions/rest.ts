import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

/** Seconds without power after which nothing is left in memory. */
export const REST_S = 10;

export const rest = action("rest", () => ({
  title: `${REST_S} seconds without power`,
  why: "Until then the old loader lives on in memory.",
  needs: { "loader: written": YES },
  gives: { "loader: serves": YES, "board: shows": "loader" },
  undoes: ["main: runs"],
  costS: REST_S + 5,
  hands: 2,
  restarts: true,
}));
