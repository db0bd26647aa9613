import {
  LOADER_PART,
  mountsOf,
  releaseTitle,
  versionsOf,
  type Catalogue,
  type Firmware,
  type Requirement,
} from "@/core/catalog";

const same = (a: Requirement, b: Requirement) =>
  a.part === b.part && a.family === b.family && a.least === b.least && a.most === b.most;

/**
 * What a release wants of other parts that the one before it did not want so, a sentence each: to be looked at before it is
 * written. A part that some models carry and this one does not is said to be missing; the loader is seen to by the job.
 * `along`: kinds that come along with it.
 */
export function wantsOfParts(
  to: Firmware,
  from: Firmware | undefined,
  modelId: string,
  { models }: Pick<Catalogue, "models">,
  along: readonly string[] = [],
): string[] {
  const model = models.get(modelId);
  const own = model ? mountsOf(model).map(({ part }) => part) : [];
  // what a battery feeds can be fitted beside any board
  const carried = new Set(
    [...models.values()].flatMap((each) =>
      mountsOf(each).flatMap(({ part, supply }) => ([supply].flat().includes("board") ? [part] : [])),
    ),
  );
  return to.requires
    .filter(({ part }) => part !== LOADER_PART && !along.includes(part))
    .filter((requirement) => from?.requires.some((before) => same(before, requirement)) !== true)
    .map((requirement) => {
      const { part, family, why } = requirement;
      const wants = `${releaseTitle(to)} drives ${family} ${versionsOf(requirement)} on its ${part}`;
      if (model && carried.has(part) && !own.includes(part))
        return `${wants}, and this board has none: it cannot do what runs there.`;
      const before = from?.requires.find((each) => each.part === part && each.family === family);
      const until = before && from ? `; ${releaseTitle(from)} drove ${versionsOf(before)}` : "";
      const because = why === undefined ? "" : ` ${why.replace(/\.$/, "")}.`;
      return `${wants}${until}.${because} It does not come along with this job: read it out first, and bring it along before the aircraft flies.`;
    });
}
