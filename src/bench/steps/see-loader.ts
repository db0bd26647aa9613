import { layoutsOf, lets, loadersFor, loaderWanted, releaseTitle, versionsOf } from "@/core/catalog";
import { imageFrom, loaderSpace, readIdentity } from "@/core/image";
import { openLoader, versionShown } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob, type Loader } from "@/bench/steps/own-loader";
import { done, failed, type StepContext, type StepRunner, releaseWanted } from "@/bench/steps/context";

/**
 * Which loader is in its place: by its own word where it says one, or else by what lies there. `gone`: nothing whole does;
 * undefined when it cannot be told.
 */
export async function loaderVersion(context: StepContext, seen: Loader): Promise<number | "gone" | undefined> {
  const shown = versionShown(seen);
  if (shown !== undefined) return shown;
  const processor = processorOfJob(context);
  const place = loaderSpace(processor);
  const loader = openLoader(context.link, seen, processor);
  const spaces = loader.spaces.filter(({ use }) => use === "loader").toSorted((a, b) => a.start - b.start);
  if (!place || spaces.length === 0 || !loader.can.read) return undefined;
  await context.progress({ say: "Reading the other loader's place" });
  const bytes = new Uint8Array(place.sizeBytes).fill(0xff);
  for (const space of spaces) bytes.set(valueOf(await loader.read(space)), space.start - place.start);
  const layouts = layoutsOf(context.catalogue);
  const length = readIdentity(bytes, place.identityOffset, layouts)?.lengthBytes ?? 0;
  const chunk = { start: place.start, bytes: bytes.subarray(0, length) };
  const image = imageFrom([chunk], processor, { space: place, layouts });
  const version = image.ok ? Number(image.value.identity.version) : NaN;
  return Number.isSafeInteger(version) ? version : "gone";
}

/** The loaders that a job's release does with on this board, oldest first, and what it asks of them. */
export function wantedLoader(context: StepContext) {
  const release = releaseWanted(context);
  const { id } = processorOfJob(context);
  const loaders = loadersFor(context.catalogue, id);
  return loaderWanted(context.catalogue, release, id) ?? { requirement: undefined, loaders };
}

/** Holds the loader against what the release wants. Where it has to be another, that is looked at before anything is written. */
export const seeLoader: StepRunner = async (context) => {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const { requirement, loaders } = wantedLoader(context);
  const release = releaseWanted(context);
  const stable = loaders.filter(({ standing }) => standing === "stable");
  const next = (stable.length > 0 ? stable : loaders).at(-1);
  const family = requirement?.family ?? next?.family ?? "loader";
  const version = await loaderVersion(context, found);
  const has =
    version === "gone"
      ? "The place of its USB loader holds none that is whole"
      : version === undefined
        ? "Its version is not known"
        : `It has ${family} ${version}`;
  // whatever answers as a loader does, where the release asks for nothing
  const serves =
    requirement === undefined ? version !== "gone" : typeof version === "number" && lets(requirement, version);
  if (serves)
    return done(version === undefined ? `${has}; any will do.` : `${has}, which is enough.`, {
      loaderRelease: "",
      loaderSha: "",
    });
  if (!next)
    return failed({
      code: "loader-missing",
      message: `No loader of the workshop is ${family} ${requirement ? versionsOf(requirement) : ""}`,
      detail: `${has}; ${releaseTitle(release)} starts on no other`,
      hint: "Import the document and the image of that loader under Firmware, then stop this job and order it again",
    });
  const processor = processorOfJob(context);
  const target = next.targets.find((each) => each.processor === processor.id)?.id ?? "";
  const { sha256 } = await context.store.image(next.id, target);
  return done(`${has}; it is to have ${releaseTitle(next)}, whose image is whole: SHA-256 ${sha256.slice(0, 12)}….`, {
    loaderRelease: next.id,
    loaderSha: sha256,
  });
};
