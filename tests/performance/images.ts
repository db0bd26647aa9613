import MemoryMap from "nrf-intel-hex";
import { FORMATS, readHex } from "@/core/image";
import { valueOf } from "@/core/problem";
import { alternate } from "./alternate";

const MEGABYTES = 2;
const START = 0x0800_4000;

/** Image formats against a well-kept package and against each other. */
export function imageBench(say: (text?: string) => void): void {
  const bytes = Uint8Array.from({ length: MEGABYTES * 1024 * 1024 }, (_, i) => (i * 2654435761) >>> 24);
  const chunks = [{ start: START, bytes }];
  const options = { start: START };
  const hex = new TextDecoder().decode(valueOf(FORMATS[0]?.write(chunks, options) ?? readNothing()));
  const { ratio } = alternate(
    () => void MemoryMap.fromHex(hex),
    () => void valueOf(readHex(hex)),
    3000,
  );
  say(`## Images of ${MEGABYTES} MB`);
  say();
  say("| what | against | ratio | aim |");
  say("| --- | --- | --- | --- |");
  say(
    `| npm nrf-intel-hex reads Intel HEX | the same text read here, every check made | ${ratio.toFixed(2)} × | ≥ 3 × |`,
  );
  const file = (id: string) => {
    const format = FORMATS.find((each) => each.id === id);
    if (!format) throw new Error(id);
    return { format, made: valueOf(format.write(chunks, options)) };
  };
  const own = file("intel-hex");
  for (const id of ["s-record", "uf2", "dfu"]) {
    const { format, made } = file(id);
    const reading = alternate(
      () => void valueOf(format.read(made, options)),
      () => void valueOf(own.format.read(own.made, options)),
      1200,
    );
    const mbs = MEGABYTES / (reading.ms / 1000);
    say(
      `| ${format.title} is read, ${mbs.toFixed(0)} MB/s here | Intel HEX of the same bytes | ${reading.ratio.toFixed(2)} × | |`,
    );
  }
  say();
}

function readNothing(): never {
  throw new Error("there is no format");
}
