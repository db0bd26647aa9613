import { findRelease, findTarget, type Catalogue } from "@/core/catalog";
import { readSenses } from "@/core/checks";
import { askCommand } from "@/core/console";
import { commandLine, type Idiom } from "@/core/idiom";
import { cluesOf, usbId } from "@/core/identify";
import { askLoader } from "@/core/loader";
import type { BoardLink, Presence, Shown } from "@/bench/link";
import { declareBoard } from "@/bench/steps/context";
import type { Known } from "@/bench/tile";
import { boardsByChip, boardsByLoader } from "@/server/repositories/boards";

/** The processor behind a loader: as it says itself, or the only one whose loaders have this USB identity. */
function processorBy(
  presence: Extract<Presence, { kind: "loader" }>,
  said: string | undefined,
  catalogue: Catalogue,
): { processor?: string } {
  if (said !== undefined) return { processor: said };
  if (!("vendorId" in presence)) return {};
  const [clue] = cluesOf({ usb: usbId(presence) }, catalogue);
  return clue?.kind === "processor" ? { processor: clue.seen } : {};
}

/** A loader says less than a console: the boards of the register that it can be of are its owners. */
async function knownLoader(
  link: BoardLink,
  presence: Extract<Presence, { kind: "loader" }>,
  catalogue: Catalogue,
): Promise<Known> {
  const { appearance } = presence;
  const word = await askLoader(link, presence, [...catalogue.processors.values()]);
  if (!word)
    return {
      appearance,
      problem: {
        code: "loader-silent",
        message: "A serial line, and no loader that answers on it",
        hint: "Check the adapter's wires, transmit to receive and back, then bring the board into its loader again",
      },
    };
  const loaderId = word.id;
  const owners = (await boardsByLoader(loaderId, catalogue)).filter((board) => board.aircraft_id !== null);
  const [owner] = owners;
  return {
    appearance,
    loaderId,
    ...processorBy(presence, word.processor, catalogue),
    ...(owner?.tag && owners.length === 1
      ? { tag: owner.tag, aircraftId: owner.aircraft_id ?? 0, chipId: owner.chip_id }
      : {}),
    ...(owners.length > 1 ? { doubled: owners.map(({ tag, chip_id: chip }) => tag ?? chip) } : {}),
  };
}

/** Whether it measures an attitude, and which part of it is silent; undefined where its console does not say what it measures. */
async function whatItFeels(
  link: BoardLink,
  idiom: Idiom,
): Promise<{ readonly attitude: boolean; readonly silentPart?: string } | undefined> {
  if (commandLine(idiom, "sense") === undefined) return undefined;
  const reply = await askCommand(link.console, idiom, "sense");
  if (!reply.ok || reply.value.answer !== "accepted") return undefined;
  const { roll, pitch, parts } = readSenses(reply.value.output.join("\n"), idiom);
  const silentPart = Object.keys(parts).find((part) => parts[part] === "silent");
  return {
    attitude: roll !== undefined && pitch !== undefined,
    ...(silentPart === undefined ? {} : { silentPart }),
  };
}

async function knownConsole(link: BoardLink, { appearance }: Shown, catalogue: Catalogue): Promise<Known> {
  const { identity, idiom } = await declareBoard(link, catalogue);
  const release = findRelease(catalogue, identity.family, identity.release);
  const running = release.ok ? findTarget(release.value, identity.target ?? "") : undefined;
  const owners =
    identity.chipId === undefined
      ? []
      : (await boardsByChip(identity.chipId)).filter((board) => board.aircraft_id !== null);
  const [owner] = owners;
  const feels = await whatItFeels(link, idiom);
  const takes =
    owners.length === 1 && release.ok && owner?.target ? findTarget(release.value, owner.target) : undefined;
  return {
    appearance,
    identity,
    ...(feels ? { gyro: { found: feels.attitude, ...(running ? { looksFor: running.gyro } : {}) } } : {}),
    ...(feels?.silentPart === undefined ? {} : { silentPart: feels.silentPart }),
    ...(takes && running && takes.id !== running.id ? { ownTarget: takes.id } : {}),
    ...(owner?.tag && owners.length === 1 ? { tag: owner.tag, aircraftId: owner.aircraft_id ?? 0 } : {}),
    ...(owners.length > 1 ? { doubled: owners.map((o) => o.tag ?? "?") } : {}),
  };
}

/** What something on the cable says of itself, and whose it is by the register. */
export const whoIsThere = (
  link: BoardLink,
  presence: Exclude<Presence, { kind: "none" }>,
  catalogue: Catalogue,
): Promise<Known> =>
  presence.kind === "console" ? knownConsole(link, presence, catalogue) : knownLoader(link, presence, catalogue);
