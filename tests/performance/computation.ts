import { Bench } from "tinybench";
import { processorOf } from "@/core/catalog";
import { defaultConfiguration, readRecital, reciteLines } from "@/core/idiom";
import { applicationSpace, readHex, writeHex } from "@/core/image";
import { valueOf } from "@/core/problem";
import { catalogue, imageFile, release, statementIdiom } from "../support/workshop";

const idiom = statementIdiom();

/** Reading a text and an image, against the least that anybody would have to do with it. */
export async function computationBench(say: (text?: string) => void): Promise<void> {
  const to = release("heddle-23");
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
