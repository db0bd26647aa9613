import { findTarget, firmwareById, layoutOf, loaderOf, sectorsOf, settingsSegment } from "@/core/catalog";
import { ask } from "@/core/console";
import { readImageFile } from "@/core/image";
import { askLoader, openLoader, partsOf, runFlash, type Loader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { linkThrough } from "@/bench/part-link";
import { buildImage } from "@/core/sim";
import { currentStep, planJob, wishFor, type Goal } from "@/core/job";
import { fittedParts, type FittedPart } from "@/core/part";
import { batteryHands, boardOf, partsJob } from "../support/parts";
import { catalogue, MemoryStore, statementIdiom, release, runUpdate } from "../support/workshop";

const seconds = (us: number) => `${(us / 1e6).toFixed(2)} s`;

/** A part in its loader behind the line that its board has opened. */
async function partBehind(no: number) {
  const { board, link, fitted } = await boardOf("QW-01");
  valueOf(await ask(link.console, `reach controller ${no}`, statementIdiom(), 2000));
  board.setBattery(link.clock.nowUs(), true);
  await link.clock.waitUntil(link.clock.nowUs() + 200_000);
  const part = board.parts.at("speed controllers", no);
  const through = linkThrough(link);
  const seen = through.presence();
  if (!part || seen.kind !== "loader") throw new Error("no part");
  await askLoader(through, seen, [part.processor]);
  return { part, link, fitted, loader: openLoader(through, seen, part.processor) };
}

async function readRegion(loader: Loader): Promise<number> {
  const region = loader.spaces.find(({ use }) => use === "settings");
  if (!region) throw new Error("no region");
  return valueOf(await loader.read(region)).length;
}

/** Board time of a job that reads parts out, and of it what the board's own read-out took. */
async function readingTime(
  which: (part: FittedPart) => boolean,
): Promise<{ readonly all: number; readonly board: number }> {
  const { board, link, aircraft, fitted } = await boardOf("QW-01");
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  const from = link.clock.nowUs();
  let read: number | undefined;
  const end = await runUpdate(board, link, new MemoryStore(), {
    job: partsJob(aircraft, fitted.filter(which)),
    hands: (ask) => batteryHands(ask, board, link),
    killWhen: (state) => {
      if (currentStep(state)?.kind === "make-safe") read ??= link.clock.nowUs();
      return false;
    },
  });
  if (end !== "finished" || read === undefined) throw new Error("nothing was read");
  return { all: link.clock.nowUs() - from, board: read - from };
}

/** The median time of nine, in ms. */
function medianOf(work: () => void): number {
  const times = Array.from({ length: 9 }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  });
  return times.sort((a, b) => a - b)[4] ?? 0;
}

/** A plan for all behind a board of the demo: six controllers on two batteries, and a co-processor. */
async function twoKindsTime(written: boolean): Promise<number> {
  const { aircraft, fitted } = await boardOf("QW-14");
  const other = (part: string) => (part === "co-processor" ? "pirn-6" : "spindle-44");
  const runs = written ? Object.fromEntries(fitted.map(({ name, part }) => [name, other(part)])) : {};
  return medianOf(() => partsJob(aircraft, fitted, runs));
}

/** How long a plan for so many controllers takes to be found on this machine, in ms. */
function planningTime(count: number, more: "parts" | "with the board" | "by a detour" = "parts"): number {
  const fitted = fittedParts(undefined, [
    {
      part: "speed controllers",
      title: "speed controller",
      places: Array.from({ length: count }, (_, i) => `arm ${i + 1}`),
      target: "RIDGE-35",
      supply: "battery",
    },
  ]);
  const runs = Object.fromEntries(fitted.map(({ name }) => [name, "spindle-45"]));
  const all = { runs: { main: "heddle-23", ...runs }, fitted };
  const goal: Goal =
    more === "with the board"
      ? { kind: "ability", ability: "turn-over", flashes: true, ...all }
      : {
          kind: "parts",
          ...all,
          ...(more === "parts" ? {} : { detour: { releaseId: "heddle-24", title: "Heddle 24", target: "CSLATE-B" } }),
        };
  const wish = wishFor({ tag: "QW-01", goal }, release("heddle-23"), undefined, catalogue());
  return medianOf(() => {
    if (planJob(goal, wish, { "main: shows": "console" }).kind === "none") throw new Error("no plan");
  });
}

/** What a part takes through a line, against what its wire can do at all. Board time, not this machine's. */
export async function partsBench(say: (text?: string) => void): Promise<void> {
  say("## Parts behind a board: through the line that its console opened");
  say();
  say("| what | bytes | time | limit | ratio | aim |");
  say("| --- | --- | --- | --- | --- | --- |");
  const { part, link, loader } = await partBehind(2);
  const { processor } = part;
  const byteUs = 10_000_000 / (loaderOf(processor, "serial")?.baud ?? 1);
  const now = () => link.clock.nowUs();
  const row = (what: string, bytes: number, us: number, limit: number) =>
    say(`| ${what} | ${bytes} | ${seconds(us)} | ${seconds(limit)} | ${(us / limit).toFixed(3)} × | ≤ 1.05 × |`);

  const begun = now();
  const region = await readRegion(loader);
  row("read its settings region, against its wire", region, now() - begun, region * byteUs);

  const firmware = firmwareById(catalogue(), "spindle-45");
  const target = firmware && findTarget(firmware, "RIDGE-35");
  if (!firmware || !target) throw new Error("no image");
  const image = buildImage(firmware, target, processor, layoutOf(catalogue(), firmware));
  const parts = valueOf(partsOf(valueOf(readImageFile(image, processor)), loader.spaces));
  // nothing of what it holds is equal: every sector is erased, written and read back
  part.flash.bytes.fill(0, settingsSegment(processor).lengthBytes);
  const from = now();
  valueOf(await runFlash(loader, parts));
  const erase = sectorsOf(processor)
    .filter(({ start }) => parts.some(({ space }) => start >= space.start && start < space.start + space.lengthBytes))
    .reduce((sum, { eraseUs }) => sum + eraseUs, 0);
  const physical = image.length * (2 * byteUs + processor.programUsPerByte) + erase;
  row("write its firmware and read it back, against wire and flash", image.length, now() - from, physical);
  say();

  const { aircraft, fitted } = await boardOf("QW-01");
  const runs = Object.fromEntries(fitted.map(({ name }) => [name, "spindle-45"]));
  const goal: Goal = { kind: "parts", runs: { main: aircraft.release, ...runs }, fitted };
  const wish = wishFor({ tag: aircraft.tag, goal }, release(aircraft.release), undefined, catalogue());
  const planned = planJob(goal, wish, { "main: shows": "console" });
  if (planned.kind === "none") throw new Error("no plan");
  say(
    `Four controllers read out, written, set up and proved are ${planned.moves.length} steps, in ${planned.moves.reduce((sum, { hands }) => sum + hands, 0)} of which hands are needed.`,
  );
  say();
  const together = await readingTime(() => true);
  const alone = await Promise.all([1, 2, 3, 4].map((no) => readingTime((each) => each.no === no)));
  // the board is read out once for all of them; the line is opened once
  const sum = together.board + alone.reduce((all, each) => all + each.all - each.board, 0);
  say(
    `Board and four controllers read out together: ${seconds(together.all)}, against ${seconds(sum)} for the board and each by itself: ${(together.all / sum).toFixed(3)} × (aim 1.05).`,
  );
  say();
  say(
    `A plan for ${[1, 2, 4, 6].map((count) => `${count} ${count === 1 ? "controller" : "controllers"}: ${planningTime(count).toFixed(1)} ms`).join(", ")}, for the board and six: ${planningTime(6, "with the board").toFixed(1)} ms, for six by a detour: ${planningTime(6, "by a detour").toFixed(1)} ms (aim 50 ms for six). Six on two batteries beside a co-processor, read out: ${(await twoKindsTime(false)).toFixed(1)} ms, written: ${(await twoKindsTime(true)).toFixed(1)} ms.`,
  );
  say();
}
