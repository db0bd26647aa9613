import { findRelease, findTarget, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import type { BayLive, Goal } from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { loadImage } from "@/server/repositories/catalogue";

/** A goal that can be ordered: all that is known to fail was refused. */
export interface SettledGoal {
  readonly goal: Goal;
  readonly release: Release;
  readonly headline: string;
}

/** The release that a board in a bay says it runs. */
export function releaseInBay(catalogue: Catalogue, bay: BayLive): Release {
  return valueOf(findRelease(catalogue, bay.family, bay.release));
}

/** A release that is built for a target, with an image of it in the workshop. */
export async function writable(releaseId: string, target: string, catalogue: Catalogue): Promise<Release> {
  const release = valueOf(releaseById(catalogue, releaseId));
  const found = findTarget(release, target);
  if (!found)
    throw new ProblemError({
      code: "target-missing",
      message: `${releaseTitle(release)} is not built for ${target === "" ? "this board" : target}`,
      hint: "Choose a release that builds this target",
    });
  await loadImage(catalogue, release.id, found.id);
  return release;
}
