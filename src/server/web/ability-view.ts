import type { AbilityView } from "@/contracts/answers/abilities";
import { abilityViews } from "@/server/repositories/settle-ability";
import { aircraftInBay } from "@/server/web/aircraft-in-bay";

/** The abilities that the aircraft of the board in a bay could have, by the releases of the family that it runs. */
export async function abilityChoices(bayNo: number): Promise<AbilityView[]> {
  const { aircraft, live, catalogue, here } = await aircraftInBay(bayNo);
  return here ? abilityViews(aircraft, here, live, catalogue) : [];
}
