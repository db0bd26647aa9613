import { resultOf, modelOf } from "@/core/job";
import { readSenses } from "@/core/checks";
import { findTarget, releaseById } from "@/core/catalog";
import { askCommand } from "@/core/console";
import { commandLine } from "@/core/idiom";
import { heldAgainst, ownClues, signKey, type AgainstTaken } from "@/core/identify";
import { declareOwn, waits, type Spoken, type StepContext, type StepOutcome } from "@/bench/steps/context";

/** What the gyro says, where the firmware on the board is that of the target that it is taken for. */
async function gyroAgainst(
  { link, catalogue, state, part }: StepContext,
  { idiom, identity }: Spoken,
): Promise<AgainstTaken[]> {
  const { target, toRelease } = resultOf(state, "know-target", part);
  const release = toRelease === undefined ? undefined : releaseById(catalogue, toRelease);
  const wanted = release?.ok && target !== undefined ? findTarget(release.value, target) : undefined;
  if (!wanted || identity.target !== wanted.id || commandLine(idiom, "sense") === undefined) return [];
  const reply = await askCommand(link.console, idiom, "sense");
  if (!reply.ok || reply.value.answer !== "accepted") return [];
  const { roll, pitch, parts } = readSenses(reply.value.output.join("\n"), idiom);
  // a part that is silent is a cause of its own, and told as that
  if (roll !== undefined || pitch !== undefined || Object.values(parts).includes("silent")) return [];
  return [{ sign: "Gyro", taken: `${wanted.gyro}, which ${wanted.id} looks for`, seen: "silent", speaksFor: [] }];
}

/**
 * Holds every sign that the board gives now against the model and target that it is taken for. Undefined where nothing
 * contradicts, or somebody goes on all the same, by name and with a reason; else what the job waits for.
 */
export async function contradicted(context: StepContext, known?: Spoken): Promise<StepOutcome | undefined> {
  const { link, store, catalogue, state } = context;
  const presence = link.presence();
  if (presence.kind !== "console") return undefined;
  const spoken = known ?? (await declareOwn(context));
  const modelId = (await store.knownModel())?.modelId ?? modelOf(state, context.part);
  const clues = ownClues(spoken.identity.board, presence);
  const found = [
    ...(modelId === undefined ? [] : heldAgainst(clues, modelId, catalogue)),
    ...(await gyroAgainst(context, spoken)),
  ];
  const open = found.filter((each) => !state.accepted.some(({ sign }) => sign === signKey(each)));
  if (open.length === 0) return undefined;
  return waits({
    kind: "against",
    say: `What the board says contradicts what it is taken for. Nothing goes on before that is settled: stop the job and say which board it is, or go on with a reason, by your name.`,
    readings: open,
  });
}
