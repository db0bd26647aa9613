import { ask, keepSettings, plainLines, sendScript } from "@/core/console";
import { findTarget, firmwareById, layoutOf, processorOf, releaseById, type Catalogue } from "@/core/catalog";
import { commandLine, idiomOf } from "@/core/idiom";
import { fittedParts, type FittedPart } from "@/core/part";
import { valueOf } from "@/core/problem";
import { buildImage, linkTo, SimBoard, virtualClock, type SimLink, type SimPartSpec } from "@/core/sim";
import type { DemoAircraft, DemoPart } from "./fleet";

/** Makes a board with its firmware, plugged in and running. */
export async function makeBoard(
  aircraft: Pick<DemoAircraft, "model" | "chipId" | "release" | "mountQuarters" | "fitted" | "runs">,
  catalogue: Catalogue,
  index: number,
): Promise<{ board: SimBoard; link: SimLink }> {
  const model = catalogue.models.get(aircraft.model);
  const release = valueOf(releaseById(catalogue, aircraft.release));
  const target = model && findTarget(release, model.target);
  if (!model || !target) throw new Error(`${aircraft.chipId} has no model or target`);
  const parts = fittedParts(model, aircraft.fitted ?? []).flatMap((part) => {
    const real = aircraft.runs?.[part.part]?.[part.no - 1];
    return real ? [{ part, real }] : [];
  });
  const specs = parts.map(({ part, real }, i): SimPartSpec => {
    const firmware = firmwareById(catalogue, real.release);
    const processor = firmware && findTarget(firmware, real.target)?.processor;
    if (processor === undefined) throw new Error(`${real.release} is not built for ${real.target}`);
    return {
      ...{ part: part.part, no: part.no, supply: part.supply, processor, target: real.target },
      chipId: partChip(aircraft.chipId, i + 1),
      ...(real.worn ? { worn: true } : {}),
    };
  });
  const board = new SimBoard({ model, chipId: aircraft.chipId, firstPort: 2 + index, parts: specs }, catalogue);
  for (const { part, real } of parts) manufacturePart(board, part, real, catalogue);
  board.manufacture(buildImage(release, target, processorOf(catalogue, model.processor), layoutOf(catalogue, release)));
  board.senses.mountQuarters = aircraft.mountQuarters ?? 0;
  const link = linkTo(board, virtualClock());
  board.plug(0);
  await link.clock.waitUntil(2_000_000);
  return { board, link };
}

/** No two parts have one: it is made of the chip of their board and their place behind it. */
const partChip = (chipId: string, no: number): string => {
  const [first = "", second = "", third = first] = chipId.split("-");
  return `${third}-5C0${no}-${second}`;
};

function manufacturePart(board: SimBoard, part: FittedPart, real: DemoPart, catalogue: Catalogue): void {
  const made = board.parts.at(part.part, part.no);
  const firmware = firmwareById(catalogue, real.release);
  const target = firmware && findTarget(firmware, real.target);
  if (!made || !firmware || !target) throw new Error(`${real.release} is not built for ${real.target}`);
  made.manufacture(buildImage(firmware, target, made.processor, layoutOf(catalogue, firmware)));
  made.place(real.values ?? {});
}

export async function typeLines(
  link: SimLink,
  catalogue: Catalogue,
  aircraft: Pick<DemoAircraft, "tag" | "release">,
  lines: readonly string[],
): Promise<void> {
  const idiom = demoIdiom(catalogue, aircraft);
  const quiet = commandLine(idiom, "quiet");
  if (quiet !== undefined) valueOf(await ask(link.console, quiet, idiom, 2000));
  const sent = await sendScript(link.console, plainLines(lines), idiom, { windowBytes: 64, quietUs: 2_000_000 });
  if (sent.problem) throw new Error(`${aircraft.tag}: ${JSON.stringify(sent.problem)}`);
  sent.answers.forEach((answer, i) => {
    if (answer?.answer !== "accepted")
      throw new Error(
        `${aircraft.tag} does not take “${lines[i] ?? ""}”: ${answer?.text ?? answer?.answer ?? "silence"}`,
      );
  });
  valueOf(await keepSettings(link.console, idiom));
}

export function demoIdiom(catalogue: Catalogue, aircraft: Pick<DemoAircraft, "release">) {
  const document = catalogue.idioms.get(valueOf(releaseById(catalogue, aircraft.release)).idiom);
  if (!document) throw new Error("the demo's idiom is missing");
  return idiomOf(document);
}
