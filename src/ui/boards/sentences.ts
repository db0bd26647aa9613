import type { BoardModel, ProcessorLoader } from "@/core/catalog";
import type { Nearness } from "@/core/identify";

/** What a hand can do to bring a board into its loader. */
export function waysIntoLoader({ bootButton, bootPads }: Pick<BoardModel, "bootButton" | "bootPads">): string {
  const ways = [bootButton ? "button" : "", bootPads ? "pads" : ""].filter(Boolean);
  return ways.length === 0 ? "by console only" : ways.join(" or ");
}

/** Which loader, and whether it can be lost. */
export const loaderWhere = (kind: ProcessorLoader["kind"], inFlash: boolean): string =>
  kind === "usb" && inFlash ? "USB, in flash: it can be erased" : `${kind === "usb" ? "USB" : kind}, in ROM`;

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** “Differs in 2 pads, both in use: lights, telemetry would not work.” */
export function nearSentence({ gyro, pads, breaks }: Nearness, ofAircraft: boolean): string {
  if (!gyro && pads.length === 0) return "Alike in every pad and in its gyro.";
  const parts = [
    gyro ? `another gyro (${gyro.there} instead of ${gyro.here}): it would not fly at all` : "",
    pads.length > 0 ? count(pads.length, "pad differs", "pads differ") : "",
  ].filter(Boolean);
  const uses = [...new Set(pads.map((pad) => pad.uses).filter(Boolean))];
  const broken =
    uses.length > 0
      ? `; ${uses.join(", ")} would not work as wired`
      : ofAircraft && breaks === 0
        ? "; none of them is in use"
        : "";
  const text = `${parts.join(", ")}${broken}.`;
  return text.charAt(0).toUpperCase() + text.slice(1);
}
