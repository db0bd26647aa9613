import type { Identity } from "@/core/config";
import { LOADER_TITLES } from "@/core/loader";
import {
  currentStep,
  EMPTY_BAY,
  stepSpec,
  type BayLive,
  type JobLive,
  type JobState,
  type Mark,
  type Progress,
} from "@/core/job";
import type { Problem } from "@/core/problem";
import type { Presence } from "@/bench/link";
import type { SocketFace } from "@/bench/socket";
import type { JobRow } from "@/server/repositories/jobs";

/** What a bay found out about the board on its cable. */
export interface Known {
  /** Of the appearance that it was asked at. */
  readonly appearance: number;
  readonly identity?: Identity;
  readonly tag?: string;
  readonly aircraftId?: number;
  /** Several aircraft own this chip id. */
  readonly doubled?: readonly string[];
  /** A part that its firmware needs and does not hear. */
  readonly silentPart?: string;
  /** Whether its firmware found the gyro that it looks for, and which that is. */
  readonly gyro?: { readonly found: boolean; readonly looksFor?: string };
  /** The target that its model takes, where its firmware is of another one. */
  readonly ownTarget?: string;
  readonly loaderId?: string;
  /** As its loader says. */
  readonly processor?: string;
  /** Chip id of the one board in the register that this loader can be of. */
  readonly chipId?: string;
  /** The backup that was taken of it in this bay last, without a job. */
  readonly filed?: { readonly id: number; readonly name: string };
  readonly problem?: Problem;
}

export interface TileInput {
  readonly face: SocketFace | undefined;
  readonly presence: Presence;
  readonly known: Known | undefined;
  /** What the bench does with it by itself, or because somebody asked. */
  readonly doing: string | undefined;
  readonly job: { readonly row: JobRow; readonly state: JobState } | undefined;
  readonly progress: Progress | undefined;
  /** It shows itself anew again and again. */
  readonly restarts?: boolean;
  /** What lay or ran here before and could not be taken up. */
  readonly aside?: string | undefined;
}

export const BEING_IDENTIFIED = "being identified";

const hex = (n: number) => `0x${n.toString(16).padStart(4, "0")}`;
/** A serial line has no USB identity. */
const usbOf = ({ vendorId, productId }: { readonly vendorId?: number; readonly productId?: number }) =>
  vendorId === undefined || productId === undefined ? {} : { usb: `${hex(vendorId)}:${hex(productId)}` };
const percent = (share: number) => `${Math.floor(share * 100)} %`;
const left = (ms: number) =>
  ms < 1_000
    ? "under 1 s left"
    : ms < 90_000
      ? `${Math.round(ms / 1000)} s left`
      : `${Math.round(ms / 60_000)} min left`;

function jobTile(
  row: JobRow,
  state: JobState,
  progress: Progress | undefined,
): { mark: Mark; say: string; job: JobLive } {
  const step = currentStep(state);
  const spec = step && stepSpec(row.steps, step);
  const job = (say: string): JobLive => ({
    id: row.id,
    step: step?.id ?? "",
    say,
    ...(progress?.doneShare === undefined ? {} : { doneShare: progress.doneShare }),
    ...(progress?.leftMs === undefined ? {} : { leftMs: progress.leftMs }),
    ...(progress?.map ? { map: progress.map } : {}),
    ...(progress?.ask ? { ask: progress.ask } : {}),
  });
  const tile = (mark: Mark, say: string) => ({ mark, say, job: job(say) });
  if (!step) return tile("ok", "Done");
  if (progress?.ask) return tile(progress.ask.wrong ? "no" : "call", progress.ask.say);
  if (progress) {
    const parts = [progress.say ?? spec?.title ?? "Working"];
    if (progress.doneShare !== undefined) parts.push(percent(progress.doneShare));
    if (progress.leftMs !== undefined) parts.push(left(progress.leftMs));
    return tile("half", parts.join(", "));
  }
  if (step.status === "failed") return tile("no", step.problem?.message ?? "Stopped at a problem");
  switch (step.need?.kind) {
    case "take":
      return tile("call", "Waits for you: the plan");
    case "decisions":
      return tile("call", `Waits for you: ${step.need.open} ${step.need.open === 1 ? "decision" : "decisions"}`);
    case "confirm":
      return tile("call", `Waits for your hands: ${spec?.title ?? ""}`);
    case "check":
      return tile("no", `Failed: ${spec?.title ?? "a check"}`);
    case "against":
      return tile("no", "The board contradicts what it is taken for");
    case "sign":
      return tile("call", "Waits for your signature");
    case "board":
      return tile("look", step.need.asks.join(", then "));
    case "sense":
    case "again":
      return tile("call", step.need.say);
    case undefined:
      return tile("half", spec?.title ?? "Working");
  }
}

const LINE_SENTENCES: Readonly<Record<NonNullable<BayLive["line"]>["state"], { mark: Mark; say: string }>> = {
  absent: { mark: "none", say: "Nothing is plugged in: the machine has no such port now" },
  held: { mark: "no", say: "Another program holds the port" },
  refused: { mark: "no", say: "The port cannot be opened" },
  asked: { mark: "half", say: "Port found; asking the board" },
  silent: { mark: "look", say: "The port is there, and nothing answers on it" },
  open: { mark: "half", say: "The port is there" },
};
const lineSentence = ({ state }: NonNullable<BayLive["line"]>) => LINE_SENTENCES[state];

function boardSentence({ presence, known, doing, face, restarts }: TileInput): { mark: Mark; say: string } {
  if (restarts) return { mark: "no", say: "Comes and goes: it restarts again and again" };
  if (presence.kind === "none" && face?.line) return lineSentence(face.line);
  if (presence.kind === "none") {
    if (!face?.cable) return { mark: "none", say: "In the bay, not plugged in" };
    return {
      mark: "look",
      say: face.faults?.chargeOnlyCable ? "Plugged in, nothing seen on USB" : "Plugged in, not answering yet",
    };
  }
  if (known?.problem) return { mark: "look", say: known.problem.message };
  if (presence.kind === "loader")
    return known?.doubled
      ? { mark: "call", say: `Shows only its loader: that of ${known.doubled.join(" or ")}` }
      : { mark: "look", say: "Shows only its loader" };
  if (!known || doing !== undefined) return { mark: "half", say: `Seen, ${doing ?? BEING_IDENTIFIED}` };
  const { identity } = known;
  if (known.doubled) return { mark: "call", say: `Its chip id belongs to ${known.doubled.join(" and ")}` };
  const firmware = `${identity?.family ?? "?"} ${identity?.release ?? ""}`.trim();
  if (known.silentPart !== undefined)
    return { mark: "no", say: `Answers, ${firmware}, and does not hear its ${known.silentPart}` };
  if (known.gyro?.found === false) return { mark: "no", say: `Answers, ${firmware}, and finds no gyro` };
  return known.tag === undefined
    ? { mark: "unknown", say: `Answers, ${firmware}. Whose is it?` }
    : { mark: "ok", say: `Answers, ${firmware}` };
}

/** What a bay shows, worked out from all that is known of it. */
export function tileOf(input: TileInput): BayLive {
  const { face, presence, known, job, progress, aside } = input;
  if (!face && !job && presence.kind === "none") return aside === undefined ? EMPTY_BAY : { mark: "no", say: aside };
  const identity = known?.identity;
  const chipId = identity?.chipId ?? job?.row.chip_id ?? known?.chipId;
  const tile = job
    ? jobTile(job.row, job.state, progress)
    : aside === undefined
      ? boardSentence(input)
      : { mark: "no" as const, say: aside };
  return {
    ...face,
    presence: presence.kind,
    ...(presence.kind === "none"
      ? {}
      : {
          port: presence.port,
          seenAs: presence.kind === "console" ? "a console" : `a ${LOADER_TITLES[presence.transport]}`,
          ...("vendorId" in presence ? usbOf(presence) : {}),
        }),
    ...(known?.processor === undefined ? {} : { processor: known.processor }),
    ...(chipId === undefined ? {} : { chipId }),
    ...(known?.loaderId === undefined ? {} : { loaderId: known.loaderId }),
    ...(identity?.family === undefined ? {} : { family: identity.family }),
    ...(identity?.release === undefined ? {} : { release: identity.release }),
    ...(identity?.builtOn === undefined ? {} : { builtOn: identity.builtOn }),
    ...(identity?.target === undefined ? {} : { target: identity.target }),
    ...(identity?.board === undefined ? {} : { boardName: identity.board }),
    ...(identity?.kept === undefined ? {} : { kept: identity.kept }),
    ...(job
      ? { tag: job.row.tag, aircraftId: job.row.aircraft_id }
      : known?.tag === undefined
        ? {}
        : { tag: known.tag, aircraftId: known.aircraftId ?? 0 }),
    ...(known?.tag === undefined ? {} : { matchedBy: known.loaderId === undefined ? "chip id" : "loader id" }),
    ...(known?.gyro
      ? {
          gyro: known.gyro.found ? "answers" : "silent",
          ...(known.gyro.looksFor === undefined ? {} : { looksFor: known.gyro.looksFor }),
        }
      : {}),
    ...(known?.silentPart === undefined ? {} : { silentPart: known.silentPart }),
    ...(known?.ownTarget === undefined ? {} : { ownTarget: known.ownTarget }),
    ...(known?.filed ? { filed: known.filed } : {}),
    ...(input.restarts ? { restarts: true } : {}),
    ...tile,
  };
}
