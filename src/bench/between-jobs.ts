import { findRelease } from "@/core/catalog";
import { askCommand } from "@/core/console";
import { ProblemError, valueOf } from "@/core/problem";
import type { BoardLink } from "@/bench/link";
import { declareBoard } from "@/bench/steps/context";
import type { Known } from "@/bench/tile";
import { fileBackup } from "@/server/repositories/backups";
import { giveBoard } from "@/server/repositories/boards";
import { loadCatalogue } from "@/server/repositories/catalogue";
import type { OrderBody } from "@/server/repositories/orders";

/** What the bench writes is refused when it has lost its session. */
interface Fence {
  readonly benchId: number;
  readonly fence: string;
}

/** Reads out what stands in a bay and files it with the aircraft that owns its chip; without one, with none. */
export async function backUpBoard(
  link: BoardLink,
  known: Known | undefined,
  account: string,
  fence: Fence,
): Promise<NonNullable<Known["filed"]>> {
  const { idiom, identity } = await declareBoard(link, await loadCatalogue());
  const reply = valueOf(await askCommand(link.console, idiom, "recite"));
  const { id, name } = await fileBackup({
    raw: reply.raw,
    tag: known?.tag ?? identity.board ?? "Unknown board",
    aircraftId: known?.aircraftId ?? null,
    jobId: null,
    chipId: identity.chipId ?? null,
    source: "bay",
    account,
    at: new Date().toISOString(),
    fence,
  });
  return { id, name };
}

/** Gives the board in a bay, as what it says of itself, to an aircraft. */
export async function giveKnownBoard(
  known: Known | undefined,
  { tag, modelId, replace }: OrderBody & { kind: "give" },
  account: string,
  fence: Fence,
): Promise<void> {
  const identity = known?.identity;
  if (identity?.chipId === undefined)
    throw new ProblemError({
      code: "board-nameless",
      message: "The board says no chip id",
      hint: "Without one it cannot be known again",
    });
  const catalogue = await loadCatalogue();
  const model = catalogue.models.get(modelId);
  if (!model)
    throw new ProblemError({
      code: "model-unknown",
      message: `The catalogue has no board model “${modelId}”`,
      hint: "Import its document under Firmware",
    });
  const release = findRelease(catalogue, identity.family, identity.release);
  const gift = {
    chipId: identity.chipId,
    modelId,
    target: identity.target ?? model.target,
    releaseId: release.ok ? release.value.id : null,
  };
  await giveBoard({ ...gift, tag, replace, account, fence }, catalogue);
}
