import { findRelease, type Catalogue, type Release } from "@/core/catalog";
import type { BayLive } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById, type RegisterRow } from "@/server/repositories/fleet";

interface InBay {
  readonly aircraft: RegisterRow;
  readonly live: BayLive;
  readonly catalogue: Catalogue;
  /** The release that the board runs; undefined where that is not known. */
  readonly here: Release | undefined;
}

/** The aircraft whose board is in a bay, and what that runs. Throws the problem that it is of none. */
export async function aircraftInBay(bayNo: number): Promise<InBay> {
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
  return { aircraft, live: found.live, catalogue, here: here.ok ? here.value : undefined };
}
