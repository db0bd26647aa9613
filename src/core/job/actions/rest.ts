import { loaderAction } from "@/core/job/action";
import { partOf } from "@/core/job/subject";
import { YES, factsOf } from "@/core/job/fact";

/** Seconds without power after which nothing is left in memory. */
export const REST_S = 10;

export const rest = loaderAction("rest", (_, loader) => {
  const part = partOf(loader);
  return {
    title: `${REST_S} seconds without power`,
    why: "Until then the old loader lives on in memory.",
    needs: factsOf(loader, { written: YES }),
    gives: { ...factsOf(loader, { serves: YES }), ...factsOf(part, { shows: "loader" }) },
    undoes: [`${part}: runs`],
    costS: REST_S + 5,
    hands: 2,
    restarts: true,
  };
});
