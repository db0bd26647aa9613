import type { Catalogue } from "@/core/catalog";
import { askLoader } from "@/core/loader";
import { problemOf } from "@/core/problem";
import type { BoardLink } from "@/bench/link";
import type { AskLine, Standing } from "@/bench/serial/socket";
import { declareBoard } from "@/bench/steps/context";

async function onLoader(link: BoardLink, catalogue: Catalogue): Promise<Standing | undefined> {
  const word = await askLoader(link, { transport: "serial" }, [...catalogue.processors.values()]);
  return word && { on: "loader", who: word.id };
}

async function onConsole(link: BoardLink, catalogue: Catalogue, baud: number): Promise<Standing | undefined> {
  await link.serial.setBaud(baud);
  try {
    const { identity } = await declareBoard(link, catalogue);
    return { on: "console", who: identity.chipId ?? "" };
  } catch (error) {
    // something speaks, and no idiom of the workshop is its: that is for a person to see
    if (problemOf(error).code === "idiom-none") return { on: "console", who: "" };
    return undefined;
  }
}

/** Who stands on a line: a serial loader of one of the workshop's processors, or a console in one of its idioms. */
export const lineAsker =
  (load: () => Promise<Catalogue>): AskLine =>
  async (link, baud, before) => {
    const catalogue = await load();
    if (before !== "console") return (await onLoader(link, catalogue)) ?? onConsole(link, catalogue, baud);
    return (await onConsole(link, catalogue, baud)) ?? onLoader(link, catalogue);
  };
