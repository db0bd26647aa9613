import { buf as crc32 } from "crc-32";
import type { SerialLoader } from "@/core/catalog";
import type { LoaderKind } from "@/core/loader/loader";
import { askWho, checkBySerial, readBySerial, startBySerial, writeBySerial } from "@/core/loader/serial/menu";
import { LONG_BLOCK, SHORT_BLOCK } from "@/core/loader/serial/xmodem";
import { equalBytes, sectorSpaces } from "@/core/loader/spaces";
import { ok } from "@/core/problem";

const nothing = () => undefined;

/** A menu of letters and XMODEM-1K: each sector of flash is a space. The line was set to the loader's speed when it was asked. */
export const SERIAL: LoaderKind<SerialLoader, "serial"> = {
  ask: (port, _, processors) => askWho(port, processors),
  open(port, _, processor, loader) {
    let justWritten: number | undefined;
    return {
      spaces: sectorSpaces(processor),
      can: { read: true },
      blockBytes: LONG_BLOCK,
      read: (space, onBlock = nothing) => readBySerial(port, loader, space.no, space.lengthBytes, onBlock),
      async compare(space, expected, onBlock = nothing) {
        // what was written is always read back; what was there before may be told by its check
        if (justWritten !== space.no) {
          const crc = await checkBySerial(port, loader, space.no, expected.length);
          const erased = new Uint8Array(expected.length).fill(0xff);
          if (crc !== undefined)
            return ok({
              equal: crc === crc32(expected) >>> 0,
              ...(crc === crc32(erased) >>> 0 ? { head: erased } : {}),
            });
          // most that differs differs at once: a short look saves the long one
          const short = Math.min(SHORT_BLOCK, expected.length);
          const head = await readBySerial(port, loader, space.no, short, nothing);
          if (!head.ok) return head;
          if (!equalBytes(head.value, expected.subarray(0, short))) return ok({ equal: false, head: head.value });
        }
        justWritten = undefined;
        const bytes = await readBySerial(port, loader, space.no, expected.length, onBlock);
        return bytes.ok
          ? ok({ equal: equalBytes(bytes.value, expected), head: bytes.value.subarray(0, LONG_BLOCK) })
          : bytes;
      },
      write(space, bytes, onBlock = nothing) {
        justWritten = space.no;
        return writeBySerial(port, loader, space.no, bytes, onBlock);
      },
      leave: () => startBySerial(port, loader),
    };
  },
};
