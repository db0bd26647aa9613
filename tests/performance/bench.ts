import { writeFileSync } from "node:fs";
import { Bench } from "tinybench";
import { format, resolveConfig } from "prettier";
import { openItems, planUpdate, scriptOf, settlePlan, writerFor } from "@/core/carryover";
import { processorOf } from "@/core/catalog";
import { ask, sendLines, type OutLine, type SendState } from "@/core/console";
import { defaultConfiguration, readRecital, reciteLines } from "@/core/idiom";
import { writeHex, applicationSpace, readHex } from "@/core/image";
import { valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { baysBench } from "./bays";
import { carryoverBench } from "./carryover";
import { configurationBench } from "./configuration";
import { growthBench } from "./growth";
import { imageBench } from "./images";
import { languagesBench } from "./languages";
import { loadersBench } from "./loaders";
import { targetsBench } from "./targets";
import { catalogue, CHIP, imageFile, release, statementIdiom } from "../support/workshop";

const idiom = statementIdiom();
const to = release("heddle-23");
const lines: string[] = [];
const say = (text = "") => {
  lines.push(text);
  console.log(text);
};

/** The restore of a whole configuration, as a job sends it. */
function script(): OutLine[] {
  const configuration = defaultConfiguration(release("heddle-22"), "CSLATE-B", { target: "CSLATE-B" });
  const plan = valueOf(planUpdate({ configuration, release: release("heddle-22") }, to, "CSLATE-B", catalogue()));
  const decisions = Object.fromEntries(openItems(plan, {}).map((item) => [item.id, item.choices[0]?.id ?? ""]));
  return scriptOf(valueOf(settlePlan(plan, decisions, to)), to, writerFor(to, idiom));
}

async function uart(baud: number) {
  const model = catalogue().models.get("corsley-slate");
  if (!model) throw new Error("no model");
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(imageFile("heddle-23", "CSLATE-B"));
  board.uartBaud = baud;
  const link = linkTo(board, virtualClock());
  board.setBattery(0, true);
  await link.clock.waitUntil(2_000_000);
  valueOf(await ask(link.console, "hush", idiom, 2000));
  return { board, link };
}

const lostIn = (state: SendState) => state.answers.filter((answer) => answer?.answer !== "accepted").length;

async function paced(baud: number, windowBytes: number, sent: readonly OutLine[]) {
  const { board, link } = await uart(baud);
  const start = link.clock.nowUs();
  const state = await sendLines(link.console, sent, idiom, { windowBytes, quietUs: 2_000_000 });
  return { us: link.clock.nowUs() - start, lost: lostIn(state), lostBytes: board.lostBytes };
}

/** A fixed delay after each line, without regard to answers: the smallest that loses nothing, found by trying. */
async function fixedDelay(baud: number, sent: readonly OutLine[]) {
  for (const delayMs of [0, 1, 2, 5, 10, 20, 50, 100]) {
    const { board, link } = await uart(baud);
    const start = link.clock.nowUs();
    for (const line of sent) {
      await link.console.send(new TextEncoder().encode(`${line.text}\n`));
      await link.clock.waitUntil(Math.max(board.sentUs, link.clock.nowUs()) + delayMs * 1000);
    }
    const us = link.clock.nowUs() - start;
    await link.clock.waitUntil(link.clock.nowUs() + 10_000_000);
    board.takeSerial(link.clock.nowUs());
    if (board.lostBytes === 0) return { us, delayMs };
  }
  return { us: Infinity, delayMs: Infinity };
}

async function restore() {
  const sent = script();
  const bytes = sent.reduce((sum, line) => sum + line.text.length + 1, 0);
  say(
    `## Restore: ${sent.length} lines, ${bytes} bytes, input buffer ${to.console.inputBufferBytes} bytes, ${to.console.lineCostUs} µs a line`,
  );
  say();
  say(
    "| baud | wire limit | paced by answers | one line at a time | fixed delay, smallest that loses nothing | lines lost when paced |",
  );
  say("|---|---|---|---|---|---|");
  for (const baud of [9_600, 115_200, 921_600]) {
    const limit = (bytes * 10_000_000) / baud;
    const ratio = (us: number) => `${(us / limit).toFixed(3)} ×`;
    const best = await paced(baud, to.console.inputBufferBytes, sent);
    const single = await paced(baud, 1, sent);
    const fixed = await fixedDelay(baud, sent);
    say(
      `| ${baud} | ${(limit / 1000).toFixed(1)} ms | ${ratio(best.us)} | ${ratio(single.us)} | ${ratio(fixed.us)} (${fixed.delayMs} ms) | ${best.lost} (${best.lostBytes} bytes) |`,
    );
  }
  say();
}

async function computation() {
  const text = reciteLines(
    defaultConfiguration(to, "CSLATE-B", { family: "Heddle", release: "23", target: "CSLATE-B" }),
    to,
    idiom,
    "all",
  ).join("\n");
  const image = imageFile("heddle-23", "CSLATE-B");
  const hex = writeHex([{ start: applicationSpace(processorOf(catalogue(), "Nettle 20")).start, bytes: image }]);
  const bench = new Bench({ time: 800 });
  bench
    .add("split the read-out at its line ends", () => void text.split("\n").map((line) => line.split(" ")))
    .add(
      "read it: statements, values with lines, completeness",
      () => void valueOf(readRecital(text, idiom, catalogue())),
    )
    .add(
      "decode the image's hex digits with Buffer",
      () => void hex.split("\n").map((line) => Buffer.from(line.slice(1), "hex")),
    )
    .add("read the image as Intel HEX, proved", () => void valueOf(readHex(hex)));
  await bench.run();
  const mean = (name: string) => {
    const result = bench.tasks.find((task) => task.name === name)?.result;
    if (result?.state !== "completed") throw new Error(`${name} did not complete`);
    return result.latency.mean;
  };
  say("## Computation, as ratios in this run");
  say();
  say(
    `- reading a read-out of ${text.split("\n").length} lines with types, places and judgement: ${(mean("read it: statements, values with lines, completeness") / mean("split the read-out at its line ends")).toFixed(1)} × splitting it into words`,
  );
  say(
    `- reading an image of ${Math.round(image.length / 1024)} KB as Intel HEX with every check: ${(mean("read the image as Intel HEX, proved") / mean("decode the image's hex digits with Buffer")).toFixed(2)} × decoding its digits alone`,
  );
}

async function main() {
  say("# Performance");
  say();
  say(
    "Made by `npm run bench`. Restore and flash are measured in the virtual time of simulated boards, so they are the same on every machine; computation is compared within one run, with a young part of the memory so large that its sweeping does not grow with the input. `npx tsx tests/performance/bench.ts` measures with Node's own memory settings, where that sweeping comes on top.",
  );
  say();
  await restore();
  await loadersBench(say);
  await baysBench(say);
  configurationBench(say);
  growthBench(say);
  languagesBench(say);
  await carryoverBench(say);
  imageBench(say);
  targetsBench(say);
  await computation();
  if (process.argv.includes("--write")) {
    const target = "docs/performance.md";
    writeFileSync(
      target,
      await format(`${lines.join("\n")}\n`, { ...(await resolveConfig(target)), filepath: target }),
    );
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
