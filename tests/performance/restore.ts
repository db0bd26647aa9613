import { openItems, planUpdate, scriptOf, settlePlan, writerFor } from "@/core/carryover";
import { ask, sendLines, type OutLine, type SendState } from "@/core/console";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { catalogue, CHIP, imageFile, release, statementIdiom } from "../support/workshop";

const idiom = statementIdiom();
const to = release("heddle-23");

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

/** A restore line by line over a simulated wire, against what the wire can do at all. */
export async function restoreBench(say: (text?: string) => void): Promise<void> {
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
