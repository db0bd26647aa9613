import { chipFromLoader, findRelease, isWholeChip, processorOf, type BoardModel, type Catalogue } from "@/core/catalog";
import { askCommand } from "@/core/console";
import { ProblemError, valueOf } from "@/core/problem";
import { againstSentence, heldAgainst, ownClues } from "@/core/identify";
import type { BoardLink, Presence } from "@/bench/link";
import { declareBoard } from "@/bench/steps/context";
import type { Known } from "@/bench/tile";
import { fileBackup } from "@/server/repositories/backups";
import { boardsByLoader, giveBoard } from "@/server/repositories/boards";
import { loadCatalogue } from "@/server/repositories/catalogue";
import type { OrderBody } from "@/contracts/order-shapes";

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

/** An id that leaves words open by its own account would be taken for any other board's. */
const nameless = (said: string) =>
  new ProblemError({
    code: "board-nameless",
    message: "The board says no chip id that could be known again",
    detail: `It says ${said}`,
    hint: "A blank or cleared id does not tell boards apart",
  });

/** The chip id of a board that shows only its loader, as far as that says it. */
async function chipByLoader(known: Known | undefined, model: BoardModel, catalogue: Catalogue): Promise<string> {
  if (known?.loaderId === undefined)
    throw new ProblemError({
      code: "board-nameless",
      message: "The board says no chip id",
      hint: "Without one it cannot be known again",
    });
  if (known.processor !== undefined && known.processor !== model.processor)
    throw new ProblemError({
      code: "model-contradiction",
      message: `This board is no ${model.title}`,
      detail: `Its loader is that of a ${known.processor}; a ${model.title} has a ${model.processor}`,
      hint: "“Which target does it take?” weighs what is seen of it",
    });
  // a board that lay on the shelf since is the one that it was
  const [kept, another] = (await boardsByLoader(known.loaderId, catalogue)).filter(
    (board) => board.aircraft_id === null && board.model_id === model.id,
  );
  if (kept && !another) return kept.chip_id;
  if (!isWholeChip(known.loaderId)) throw nameless(known.loaderId);
  return chipFromLoader(known.loaderId, processorOf(catalogue, model.processor));
}

/** Gives the board in a bay, as what it says of itself, to an aircraft. */
export async function giveKnownBoard(
  known: Known | undefined,
  presence: Presence,
  { tag, modelId, replace, reason = "" }: OrderBody & { kind: "give" },
  account: string,
  fence: Fence,
): Promise<void> {
  const catalogue = await loadCatalogue();
  const model = catalogue.models.get(modelId);
  if (!model)
    throw new ProblemError({
      code: "model-unknown",
      message: `The catalogue has no board model “${modelId}”`,
      hint: "Import its document under Firmware",
    });
  const { identity } = known ?? {};
  if (identity?.chipId !== undefined && !isWholeChip(identity.chipId)) throw nameless(identity.chipId);
  const release = findRelease(catalogue, identity?.family, identity?.release);
  const gift = {
    chipId: identity?.chipId ?? (await chipByLoader(known, model, catalogue)),
    modelId,
    // by its model: what its firmware calls itself is held against that when a job begins
    target: model.target,
    releaseId: release.ok ? release.value.id : null,
  };
  const against =
    presence.kind === "console" ? heldAgainst(ownClues(identity?.board, presence), modelId, catalogue) : [];
  if (against.length > 0 && reason === "")
    throw new ProblemError({
      code: "model-contradiction",
      message: `The board says that it is no ${model.title}`,
      detail: against.map(againstSentence).join(" "),
      hint: `Choose ${against.flatMap(({ speaksFor }) => speaksFor)[0] ?? "another model"}, or say why it is a ${model.title} all the same`,
    });
  const all = against.length === 0 ? {} : { against: `Taken for a ${model.title} against its own signs: ${reason}` };
  await giveBoard({ ...gift, ...all, tag, replace, account, fence }, catalogue);
}
