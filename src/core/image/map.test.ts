import { processorOf, sectorsOf } from "@/core/catalog";
import { applicationSpace, imageMap, readImageFile } from "@/core/image";
import { valueOf } from "@/core/problem";
import { catalogue, imageFile } from "../../../tests/support/workshop";

const image = (release: string, target: string, processor: string) =>
  valueOf(readImageFile(imageFile(release, target), processorOf(catalogue(), processor)));

describe("where an image lies in flash", () => {
  it.each([
    ["CSLATE-B", "Nettle 20"],
    ["TMOTE", "Nettle 26"],
  ])(
    "%s: each sector once, every byte of the image in one of them, none where loader or settings lie",
    (target, name) => {
      const processor = processorOf(catalogue(), name);
      const it = image("heddle-23", target, name);
      const map = imageMap(processor, it);
      expect(map.map(({ no, start, sizeBytes }) => [no, start, sizeBytes])).toEqual(
        sectorsOf(processor).map(({ no, start, sizeBytes }) => [no, start, sizeBytes]),
      );
      expect(map.reduce((sum, { usedBytes }) => sum + usedBytes, 0)).toBe(it.bytes.length);
      for (const { no, start, sizeBytes, role, usedBytes } of map) {
        expect(usedBytes).toBeLessThanOrEqual(sizeBytes);
        if (processor.loaderSectors.includes(no)) expect(role).toBe("loader");
        else if (processor.settingsSectors.includes(no)) expect(role).toBe("settings");
        else expect(role).toBe(start < it.start + it.bytes.length ? "application" : "free");
        if (role !== "application") expect(usedBytes).toBe(0);
      }
      expect(map.find(({ role }) => role === "application")?.start).toBe(applicationSpace(processor).start);
    },
  );

  it("over itself nothing would be written; over another image, just the sectors in which a byte differs", () => {
    const processor = processorOf(catalogue(), "Nettle 20");
    const now = image("heddle-23", "CSLATE-B", "Nettle 20");
    expect(imageMap(processor, now, now).filter(({ equal }) => equal === false)).toEqual([]);
    const at = now.bytes.length - 1;
    const other = { ...now, bytes: now.bytes.slice() };
    other.bytes[at] = (other.bytes[at] ?? 0) ^ 1;
    const differs = imageMap(processor, now, other).filter(({ equal }) => equal === false);
    expect(differs).toHaveLength(1);
    expect(differs[0]?.usedBytes).toBeLessThanOrEqual(differs[0]?.sizeBytes ?? 0);
    expect((differs[0]?.start ?? 0) + (differs[0]?.sizeBytes ?? 0)).toBeGreaterThanOrEqual(now.start + at);
    // bytes beyond a shorter image are erased flash: that is equal only to erased flash
    const cut = { ...now, bytes: now.bytes.slice(0, 100) };
    expect(imageMap(processor, now, cut).every(({ equal, usedBytes }) => usedBytes === 0 || equal === false)).toBe(
      true,
    );
  });
});
