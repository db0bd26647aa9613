import { findFirmware, layoutsOf, releaseTitle, type Firmware } from "@/core/catalog";
import { readIdentity, type ReadIdentity } from "@/core/image";
import { openLoader, type Loader as OpenLoader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import type { StepContext, StepOutcome } from "@/bench/steps/context";

/** A part without a console in its loader, and what the block of its image says. */
export interface SeenPart {
  readonly loader: OpenLoader;
  /** Absent: its firmware is not whole, or there is none. */
  readonly identity?: ReadIdentity;
  /** Absent: the catalogue does not hold it. */
  readonly firmware?: Firmware;
}

/** Looks at the image of the step's part through its loader; or what to do first. */
export async function seePart(context: StepContext): Promise<SeenPart | StepOutcome> {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const processor = processorOfJob(context);
  const loader = openLoader(context.link, found, processor);
  const first = loader.spaces
    .filter(({ use }) => use === "application")
    .reduce((lowest, space) => (space.start < lowest.start ? space : lowest));
  const head = valueOf(await loader.read(first));
  const identity = readIdentity(head, processor.identityOffset, layoutsOf(context.catalogue));
  if (!identity) return { loader };
  const firmware = findFirmware(context.catalogue, identity.family, identity.version);
  return firmware.ok ? { loader, identity, firmware: firmware.value } : { loader, identity };
}

/** Its release by family and version, and what that is built for. */
export const seenTitle = ({ identity, firmware }: SeenPart): string =>
  identity
    ? `${firmware ? releaseTitle(firmware) : `${identity.family} ${identity.version}, which the catalogue does not hold,`} for ${identity.target}`
    : "no firmware that is whole";
