import {
  isAsPlanned,
  passesIn,
  proveRestore,
  settlePlan,
  type Decisions,
  type LineAnswer,
  type Plan,
  type ProvedValue,
  type ScriptLine,
} from "@/core/carryover";
import {
  findTarget,
  layoutOf,
  layoutsOf,
  processorOf,
  releaseById,
  releaseTitle,
  type BoardModel,
  type Catalogue,
  type Firmware,
  type Release,
  type ReleaseTarget,
} from "@/core/catalog";
import { readRescued } from "@/core/diagnose";
import { ask, askCommand, keepSettings, sendScript } from "@/core/console";
import { commandLine, idiomOf, readRecital } from "@/core/idiom";
import { readImageFile } from "@/core/image";
import { openLoader, partsOf, runFlash } from "@/core/loader";
import { lineAnswers } from "@/core/job/answers";
import { regionHolding } from "@/core/part";
import { ok, refuse, type Result } from "@/core/problem";
import { buildImage, linkTo, SimBoard, startedOn, virtualClock, type SimLink } from "@/core/sim";

/** What is played: the very lines that the job would send, to a board of this model that runs the release. */
export interface TwinInput {
  readonly releaseId: string;
  /** What runs on it before, where the release is written to it first. */
  readonly before?: { readonly releaseId: string; readonly target: string };
  readonly target: string;
  readonly modelId: string;
  readonly plan: Plan;
  readonly decisions: Decisions;
  readonly script: readonly ScriptLine[];
}

/** How a value came out on a board: on the twin, and later on the real one. */
export type TwinValue = Pick<ProvedValue, "id" | "title" | "result" | "planned" | "found" | "cause">;

/** How the twin ended. */
export interface TwinEnd {
  readonly lines: number;
  /** How long the release took to be compared, written and checked, in seconds of the board's time. */
  readonly flashS?: number;
  /** Lines sent, stored, restarted and read back, in seconds of the board's time. */
  readonly seconds: number;
  readonly took: number;
  /** Values that the twin ends with otherwise than the plan says; none: the plan comes out. */
  readonly otherwise: readonly TwinValue[];
  readonly activeAsPlanned: boolean;
}

const QUIET_US = 2_000_000;
const ANSWER_MS = 3_000;
const START_US = 8_000_000;

async function awaitConsole(link: SimLink): Promise<boolean> {
  const until = link.clock.nowUs() + START_US;
  while (link.presence().kind !== "console" && link.clock.nowUs() < until)
    await link.clock.waitUntil(link.clock.nowUs() + 100_000);
  return link.presence().kind === "console";
}

const untold = (message: string, detail?: string) =>
  refuse({
    code: "twin-stopped",
    message: `The twin did not come to its end: ${message}`,
    ...(detail === undefined ? {} : { detail }),
    hint: "The plan can be taken without it: then only the board itself shows how it comes out",
  });

const imageFileOf = (catalogue: Catalogue, release: Release, target: ReleaseTarget) =>
  buildImage(release, target, processorOf(catalogue, target.processor), layoutOf(catalogue, release));

interface Twin {
  readonly board: SimBoard;
  readonly link: SimLink;
  readonly model: BoardModel;
}

/**
 * The release written to a twin that runs what ran before, through its own loader; gives the board's seconds. Undefined where
 * nothing is written, or where no hand reaches its loader: then it is taken as it leaves the flash.
 */
async function flashTwin(
  { board, link, model }: Twin,
  file: Uint8Array,
  { before }: TwinInput,
  catalogue: Catalogue,
): Promise<Result<number> | undefined> {
  const old = before && catalogue.releases.get(before.releaseId);
  const own = old && findTarget(old, before.target);
  if (!own || !(model.bootButton || model.bootPads)) return undefined;
  const processor = processorOf(catalogue, own.processor);
  const image = readImageFile(file, processor, { layouts: layoutsOf(catalogue) });
  if (!image.ok || own.processor !== model.processor) return undefined;
  board.manufacture(imageFileOf(catalogue, old, own));
  board.plug(link.clock.nowUs(), { button: model.bootButton, pads: !model.bootButton });
  const until = link.clock.nowUs() + START_US;
  while (link.presence().kind !== "loader" && link.clock.nowUs() < until)
    await link.clock.waitUntil(link.clock.nowUs() + 100_000);
  const seen = link.presence();
  if (seen.kind !== "loader") return undefined;
  const startUs = link.clock.nowUs();
  const loader = openLoader(link, seen, processor);
  const parts = partsOf(image.value, loader.spaces);
  if (!parts.ok) return parts;
  const written = await runFlash(loader, parts.value);
  if (!written.ok) return written;
  const seconds = Math.round((link.clock.nowUs() - startUs) / 1e6);
  await loader.leave();
  return ok(seconds);
}

function modelFor(catalogue: Catalogue, { modelId, target }: TwinInput): BoardModel | undefined {
  return catalogue.models.get(modelId) ?? [...catalogue.models.values()].find((model) => model.target === target);
}

/**
 * Plays the restore of a job on a board that does not exist: same model, release and target, freshly flashed, on a virtual
 * clock; every line sent, stored, restarted and read back, and held against the plan. The same input ends the same.
 */
export async function playOnTwin(input: TwinInput, catalogue: Catalogue): Promise<Result<TwinEnd>> {
  const found = releaseById(catalogue, input.releaseId);
  if (!found.ok) return found;
  const release = found.value;
  const target = findTarget(release, input.target);
  const model = modelFor(catalogue, input);
  const document = catalogue.idioms.get(release.idiom);
  if (!target || !model || !document)
    return untold("no board of this kind is known", `${input.target}, ${input.modelId}`);
  const idiom = idiomOf(document);
  const board = new SimBoard({ model, chipId: "TW1N-0000-0000", firstPort: 1 }, catalogue);
  const link = linkTo(board, virtualClock());
  const file = imageFileOf(catalogue, release, target);
  const flashed = await flashTwin({ board, link, model }, file, input, catalogue);
  if (flashed && !flashed.ok) return untold(flashed.problem.message, flashed.problem.detail);
  if (!flashed) board.manufacture(file);
  board.unplug(link.clock.nowUs());
  board.plug(link.clock.nowUs());
  if (!(await awaitConsole(link))) return untold(`${releaseTitle(release)} did not start on it`);
  const quiet = commandLine(idiom, "quiet");
  const hush = async () => {
    if (quiet !== undefined) await ask(link.console, quiet, idiom, ANSWER_MS);
  };
  await hush();
  const startUs = link.clock.nowUs();
  const options = { windowBytes: release.console.inputBufferBytes, quietUs: QUIET_US };
  const answers: LineAnswer[] = [];
  for (const { lines, from } of passesIn(input.script)) {
    const sent = await sendScript(link.console, lines, idiom, options);
    if (sent.problem) return untold(sent.problem.message, sent.problem.detail);
    answers.push(...lineAnswers(sent, from));
    const kept = await keepSettings(link.console, idiom);
    if (!kept.ok) return untold(kept.problem.message, kept.problem.detail);
    await askCommand(link.console, idiom, "restart");
    await link.clock.waitUntil(link.clock.nowUs() + 100_000);
    if (!(await awaitConsole(link))) return untold("it did not come back after its restart");
    await hush();
  }
  const reply = await askCommand(link.console, idiom, "recite");
  if (!reply.ok) return untold(reply.problem.message, reply.problem.detail);
  const read = readRecital(new TextDecoder().decode(reply.value.raw), idiom, catalogue);
  if (!read.ok) return untold(read.problem.message, read.problem.detail);
  const proof = proveRestore({
    release,
    plan: input.plan,
    decisions: input.decisions,
    script: input.script,
    answers,
    readBack: read.value.configuration,
  });
  return ok({
    lines: input.script.length,
    ...(flashed ? { flashS: flashed.value } : {}),
    seconds: Math.round((link.clock.nowUs() - startUs) / 1e6),
    took: proof.counts.took,
    otherwise: proof.values.filter((value) => !isAsPlanned(value)).map(twinValue),
    activeAsPlanned: proof.activeAsPlanned,
  });
}

const twinValue = ({ id, title, result, planned, found, cause }: ProvedValue): TwinValue => ({
  id,
  title,
  result,
  ...(planned === undefined ? {} : { planned }),
  ...(found === undefined ? {} : { found }),
  ...(cause === undefined ? {} : { cause }),
});

const valueSentence = ({ title, result, planned, found, cause }: TwinValue) =>
  `${title}: ${planned === undefined ? "" : `planned ${planned}, `}${result === "uninvited" ? "changed uninvited to" : result}${found === undefined ? "" : ` ${found}`}${cause === undefined ? "" : ` (${cause})`}`;

const SHOWN = 12;

/** What of the twin's end has to be looked at before the board is touched; nothing where it ends as planned. */
export function twinLooks({ otherwise, activeAsPlanned }: Pick<TwinEnd, "otherwise" | "activeAsPlanned">): string[] {
  const head =
    otherwise.length === 0
      ? []
      : [
          `On its twin ${otherwise.length} ${otherwise.length === 1 ? "value comes" : "values come"} out otherwise than planned.`,
        ];
  const rest = otherwise.length > SHOWN ? [`And ${otherwise.length - SHOWN} more.`] : [];
  const active = activeAsPlanned ? [] : ["On its twin another profile is active at the end than planned."];
  return [...head, ...otherwise.slice(0, SHOWN).map(valueSentence), ...rest, ...active];
}

/** How the real board came out, held against its twin: a sentence. */
export function againstTwin(twin: TwinEnd, proved: readonly ProvedValue[]): string {
  const foretold = new Map(twin.otherwise.map((value) => [value.id, `${value.result} ${value.found ?? ""}`]));
  const real = new Map(
    proved.filter((value) => !isAsPlanned(value)).map((value) => [value.id, `${value.result} ${value.found ?? ""}`]),
  );
  const ids = [...new Set([...foretold.keys(), ...real.keys()])].filter((id) => foretold.get(id) !== real.get(id));
  if (ids.length === 0) return "It came out as on its twin.";
  return `${ids.length} ${ids.length === 1 ? "value" : "values"} came out otherwise than on its twin.`;
}

/** What is decided of a part that has no console: its plan goes over as a settings region. */
export interface RegionPlan {
  readonly plan: Plan;
  readonly decisions: Decisions;
  readonly script: readonly ScriptLine[];
}

/** The settings region that a plan comes to, as the release keeps it. Refuses what cannot be kept. */
export function regionOfPlan(
  { plan, decisions }: Pick<RegionPlan, "plan" | "decisions">,
  firmware: Firmware,
  catalogue: Catalogue,
): Result<Uint8Array> {
  const settled = settlePlan(plan, decisions, firmware);
  if (!settled.ok) return settled;
  const { configuration } = settled.value;
  const identity = { ...configuration.identity, target: plan.to.target };
  return regionHolding({ ...configuration, identity }, firmware, catalogue);
}

/**
 * The region that a plan comes to, as a simulated firmware keeps it once it has started on it, read again as one that comes out
 * of a part, before anything is erased: what is to be looked at, in sentences; none, where everything comes out as planned.
 * Refuses what cannot be kept, or not be read again.
 */
export function rehearseRegion(
  { plan, decisions, script }: RegionPlan,
  firmware: Firmware,
  catalogue: Catalogue,
): Result<string[]> {
  const region = regionOfPlan({ plan, decisions }, firmware, catalogue);
  if (!region.ok) return region;
  const kept = startedOn(region.value, firmware, plan.to.target, catalogue) ?? region.value;
  const rescued = readRescued(kept, catalogue, { target: plan.to.target });
  if (!rescued.ok) return rescued;
  const document = catalogue.idioms.get(firmware.idiom);
  if (!document) return refuse({ code: "idiom-none", message: `The catalogue has no idiom “${firmware.idiom}”` });
  const read = readRecital(rescued.value.text, idiomOf(document), catalogue, firmware);
  if (!read.ok) return read;
  const { configuration: readBack } = read.value;
  const proof = proveRestore({ release: firmware, plan, decisions, script, answers: [], readBack });
  const otherwise = proof.values.filter((value) => !isAsPlanned(value)).map(twinValue);
  return ok(twinLooks({ otherwise, activeAsPlanned: proof.activeAsPlanned }));
}
