import { layoutsOf, lets, loaderWanted, releaseById, releaseTitle, versionsOf } from "@/core/catalog";
import { loaderSpace, MOST_IDENTITY_BYTES, readIdentity } from "@/core/image";
import { openLoader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob, type Loader } from "@/bench/steps/own-loader";
import { done, failed, type StepContext, type StepRunner } from "@/bench/steps/context";

/**
 * Which loader is in its place: by its own word where it says one, or else by what its first sector holds. Undefined when
 * neither tells.
 */
export async function loaderVersion(context: StepContext, seen: Loader): Promise<number | undefined> {
  if (seen.way === "usb" && seen.version !== undefined) return seen.version;
  const processor = processorOfJob(context);
  const place = loaderSpace(processor);
  const loader = openLoader(context.link, seen, processor);
  const space = loader.spaces.find(({ use, start }) => use === "loader" && start === place?.start);
  if (!place || !space || !loader.can.read) return undefined;
  const bytes = valueOf(await loader.read({ ...space, lengthBytes: place.identityOffset + MOST_IDENTITY_BYTES }));
  const version = Number(readIdentity(bytes, place.identityOffset, layoutsOf(context.catalogue))?.version);
  return Number.isSafeInteger(version) ? version : undefined;
}

/** The loader that a job's release wants on the board: what it asks for, and which meets it. */
export const wantedLoader = (context: StepContext) =>
  loaderWanted(
    context.catalogue,
    valueOf(releaseById(context.catalogue, context.job.goal.releaseId)),
    processorOfJob(context).id,
  );

/** Holds the loader against what the release wants. Where it is too old, the one to come is looked at before anything is written. */
export const seeLoader: StepRunner = async (context) => {
  const found = await requireLoader(context);
  if (!("way" in found)) return found;
  const wanted = wantedLoader(context);
  if (!wanted) return done("The release wants no other loader.", { loaderRelease: "", loaderSha: "" });
  const { requirement, loaders } = wanted;
  const release = valueOf(releaseById(context.catalogue, context.job.goal.releaseId));
  const version = await loaderVersion(context, found);
  const { family } = requirement;
  const has = version === undefined ? "It does not say which loader it has" : `It has ${family} ${version}`;
  if (version !== undefined && lets(requirement, version))
    return done(`${has}, which does.`, { loaderRelease: "", loaderSha: "" });
  const stable = loaders.filter(({ standing }) => standing === "stable");
  const next = (stable.length > 0 ? stable : loaders).at(-1);
  if (!next)
    return failed({
      code: "loader-missing",
      message: `No loader of the workshop is ${family} ${versionsOf(requirement)}`,
      detail: `${has}; ${releaseTitle(release)} starts on no other`,
      hint: "Import the document and the image of that loader under Firmware, then begin the step again",
    });
  const processor = processorOfJob(context);
  const target = next.targets.find((each) => each.processor === processor.id)?.id ?? "";
  const { sha256 } = await context.store.image(next.id, target);
  return done(`${has}; it is to have ${releaseTitle(next)}, whose image is whole: SHA-256 ${sha256.slice(0, 12)}….`, {
    loaderRelease: next.id,
    loaderSha: sha256,
  });
};
