import { ask, keepSettings, plainLines, sendScript } from "@/core/console";
import { findTarget, layoutOf, processorOf, releaseById, type Catalogue } from "@/core/catalog";
import { commandLine, idiomOf } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { buildImage, linkTo, SimBoard, virtualClock, type SimLink } from "@/core/sim";
import type { DemoAircraft } from "./fleet";

/** Makes a board with its firmware, plugged in and running. */
export async function makeBoard(
  aircraft: Pick<DemoAircraft, "model" | "chipId" | "release" | "mountQuarters">,
  catalogue: Catalogue,
  index: number,
): Promise<{ board: SimBoard; link: SimLink }> {
  const model = catalogue.models.get(aircraft.model);
  const release = valueOf(releaseById(catalogue, aircraft.release));
  const target = model && findTarget(release, model.target);
  if (!model || !target) throw new Error(`${aircraft.chipId} has no model or target`);
  const board = new SimBoard({ model, chipId: aircraft.chipId, firstPort: 2 + index }, catalogue);
  board.manufacture(buildImage(release, target, processorOf(catalogue, model.processor), layoutOf(catalogue, release)));
  board.senses.mountQuarters = aircraft.mountQuarters ?? 0;
  const link = linkTo(board, virtualClock());
  board.plug(0);
  await link.clock.waitUntil(2_000_000);
  return { board, link };
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
