import type { AbilityView } from "@/contracts/answers/abilities";
import { findRelease } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { abilityViews } from "@/server/repositories/settle-ability";

/** The abilities that the aircraft of the board in a bay could have, by the releases of the family that it runs. */
export async function abilityChoices(bayNo: number): Promise<AbilityView[]> {
  const found = await readBay(bayNo);
  const aircraft = found?.live.aircraftId === undefined ? undefined : await aircraftById(found.live.aircraftId);
  if (!found || !aircraft)
    throw new ProblemError({
      code: "board-nobodys",
      message: "The board in this bay is of no aircraft that is known",
      hint: "Say whose it is first",
    });
  const catalogue = await loadCatalogue();
  const here = findRelease(catalogue, found.live.family, found.live.release);
  return here.ok ? abilityViews(aircraft, here.value, found.live, catalogue) : [];
}
