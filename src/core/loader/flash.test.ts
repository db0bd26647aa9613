import fc from "fast-check";
import { applicationSegments, loaderOf, processorOf, sectorsOf, settingsSegment } from "@/core/catalog";
import { readImageFile } from "@/core/image";
import {
  flashProgress,
  partsOf,
  startFlash,
  stepFlash,
  workOf,
  type FlashPart,
  type FlashState,
} from "@/core/loader/flash";
import { spacesOf } from "@/core/loader/dfu/open";
import { valueOf } from "@/core/problem";
import { catalogue, imageFile } from "../../../tests/support/workshop";

const nettle20 = processorOf(catalogue(), "Nettle 20");
const spacesShown = (alternates: readonly string[]) => {
  const loader = loaderOf(nettle20, "usb");
  return loader ? spacesOf(descriptor(alternates), loader) : [];
};
const descriptor = (alternates: readonly string[]) => ({
  vendorId: 1,
  productId: 2,
  serial: "x",
  alternates,
  transferSizeBytes: 4096,
  canUpload: true,
});

/** A flash of parts whose bytes on the board are equal or not, as told. */
function part(index: number, boot: boolean): FlashPart {
  return {
    space: { no: index, use: "application", start: index * 64, lengthBytes: 64 },
    bytes: new Uint8Array(64).fill(index),
    boot,
  };
}

interface Told {
  readonly equal: readonly boolean[];
  readonly blankBoot: boolean;
  /** Which checks fail, by their number. */
  readonly badChecks: ReadonlySet<number>;
}

/** Runs the order of a flash without a board; gives what was done. */
function play({ equal, blankBoot, badChecks }: Told): { state: FlashState; done: string[] } {
  let state = startFlash(equal.map((_, i) => part(i, i === 0)));
  const done: string[] = [];
  let checks = 0;
  for (let t = workOf(state, 16); t; t = workOf(state, 16)) {
    done.push(`${state.phase} ${state.at}`);
    const outcome =
      state.phase === "compare"
        ? {
            equal: equal[state.at] ?? false,
            head: new Uint8Array(16).fill(state.at === 0 && blankBoot ? 0xff : 1),
          }
        : { equal: !badChecks.has(checks++) };
    state = stepFlash(state, outcome);
    if (done.length > 500) throw new Error("it does not end");
  }
  return { state, done };
}

const told: fc.Arbitrary<Told> = fc.record({
  equal: fc.array(fc.boolean(), { minLength: 1, maxLength: 8 }),
  blankBoot: fc.boolean(),
  badChecks: fc.constant(new Set<number>()),
});

describe("the order of any flash", () => {
  it("compares all, disarms before it writes, writes the boot segment last, and nothing that is equal", () => {
    fc.assert(
      fc.property(told, (given) => {
        const { state, done } = play(given);
        expect(state.phase).toBe("done");
        const writes = done.filter((step) => step.startsWith("write"));
        const different = given.equal.flatMap((same, i) => (same ? [] : [i]));
        if (different.length === 0) {
          expect(done).toHaveLength(given.equal.length);
          return;
        }
        const armed = !(given.blankBoot && given.equal[0] !== undefined);
        expect(done.includes("disarm 0")).toBe(armed);
        if (armed) expect(done.indexOf("disarm 0")).toBeLessThan(done.findIndex((step) => step.startsWith("write")));
        // disarmed, or different: then the first segment is written, and last of all
        if (armed || different.includes(0)) expect(writes.at(-1)).toBe("write 0");
        for (const [i, same] of given.equal.entries()) if (same && i > 0) expect(writes).not.toContain(`write ${i}`);
        for (const i of different) expect(writes.filter((step) => step === `write ${i}`)).toHaveLength(1);
      }),
    );
  });

  it("progress only grows, and ends at the whole", () => {
    fc.assert(
      fc.property(told, (given) => {
        let state = startFlash(given.equal.map((_, i) => part(i, i === 0)));
        let last = 0;
        for (let t = workOf(state, 16); t; t = workOf(state, 16)) {
          const compared = state.phase === "compare";
          state = stepFlash(state, {
            equal: compared ? (given.equal[state.at] ?? false) : true,
            head: new Uint8Array([1]),
          });
          if (state.phase === "compare") continue;
          const { doneBytes, totalBytes } = flashProgress(state);
          expect(doneBytes).toBeGreaterThanOrEqual(last);
          expect(doneBytes).toBeLessThanOrEqual(totalBytes);
          last = doneBytes;
        }
        const { doneBytes, totalBytes } = flashProgress(state);
        expect(doneBytes).toBe(totalBytes);
      }),
    );
  });

  it("a check that fails once is repeated, one that fails always ends the flash with its place", () => {
    const once = play({ equal: [false, false], blankBoot: false, badChecks: new Set([2]) });
    expect(once.state.phase).toBe("done");
    expect(once.done.filter((step) => step.startsWith("write")).length).toBe(3);
    const always = play({
      equal: [false, false],
      blankBoot: false,
      badChecks: new Set(Array.from({ length: 100 }, (_, i) => i)),
    });
    expect(always.state.problem).toMatchObject({
      code: "flash-verify",
      message: "Segment 2 does not keep what is written to it",
    });
    // three attempts in all, each written and checked, and the sentence says so
    expect(always.done.filter((step) => step === "write 1")).toHaveLength(3);
    expect(always.done.filter((step) => step === "check 1")).toHaveLength(3);
    expect(always.state.problem?.detail).toContain("3 attempts");
    // failing twice is not failing always, and each segment has attempts of its own
    const twice = play({ equal: [false, false, false], blankBoot: false, badChecks: new Set([2, 4, 8, 10, 14, 16]) });
    expect([twice.state.phase, twice.done.filter((step) => step.startsWith("write")).length]).toEqual(["done", 9]);
    // the boot segment was not written: what is on the board can not start
    expect(always.done).not.toContain("write 0");
  });
});

describe("what a loader offers", () => {
  const names = [
    "settings: from 0x08008000, 16384 bytes",
    ...applicationSegments(nettle20).map(
      (s, i) => `segment ${i + 1}: from 0x${s.start.toString(16)}, ${s.lengthBytes} bytes`,
    ),
  ];

  it("is read from the names of its alternate settings, by the processor's document", () => {
    const spaces = spacesShown(names);
    expect(spaces.filter((s) => s.use === "settings")).toEqual([
      { no: 0, use: "settings", ...settingsSegment(nettle20) },
    ]);
    expect(
      spaces.filter((s) => s.use === "application").map(({ start, lengthBytes }) => ({ start, lengthBytes })),
    ).toEqual(applicationSegments(nettle20));
  });

  it("names of another kind are left aside, never guessed", () => {
    expect(
      spacesShown(["@Internal", "segment x: from nowhere, 12 bytes", "segment 1: from 0x10, -5 bytes", ""]),
    ).toEqual([]);
  });

  it("an image is laid into segments, the last one filled up with blank bytes", () => {
    const image = valueOf(readImageFile(imageFile("heddle-23", "CSLATE-B"), nettle20));
    const parts = valueOf(partsOf(image, spacesShown(names)));
    expect(parts.filter((p) => p.boot).map((p) => p.space.start)).toEqual([image.start]);
    expect(parts.reduce((sum, p) => sum + p.bytes.length, 0)).toBeGreaterThanOrEqual(image.bytes.length);
    expect(parts.at(-1)?.bytes.at(-1)).toBe(0xff);
    const joined = Buffer.concat(parts.map((p) => p.bytes)).subarray(0, image.bytes.length);
    expect(Buffer.compare(joined, image.bytes)).toBe(0);
  });

  it("a loader without the space that the image needs is refused with the address", () => {
    const image = valueOf(readImageFile(imageFile("heddle-23", "CSLATE-B"), nettle20));
    const short = partsOf(image, spacesShown(names.slice(0, 5)));
    expect(!short.ok && short.problem.code).toBe("loader-segments");
  });
});

describe("processors of the demo world", () => {
  it.each(["Nettle 20", "Nettle 26"])(
    "%s: sectors without gaps, and the identity block at the end of the application's first one",
    (id) => {
      const processor = processorOf(catalogue(), id);
      const sectors = sectorsOf(processor);
      sectors.forEach((sector, i) =>
        expect(sector.start).toBe((sectors[i - 1]?.start ?? processor.flashStart) + (sectors[i - 1]?.sizeBytes ?? 0)),
      );
      expect(processor.identityOffset + 64).toBe(sectors[processor.applicationSector]?.sizeBytes);
      expect(
        processor.settingsSectors.every(
          (no) => no < processor.applicationSector && !processor.loaderSectors.includes(no),
        ),
      ).toBe(true);
    },
  );

  it("has as much flash as it says", () => {
    const kilobytes = (id: string) =>
      sectorsOf(processorOf(catalogue(), id)).reduce((sum, s) => sum + s.sizeBytes, 0) / 1024;
    expect([kilobytes("Nettle 20"), kilobytes("Nettle 26")]).toEqual([1152, 640]);
  });
});
