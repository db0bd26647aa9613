import { isBattery, type Battery } from "@/core/catalog";
import type { PartName } from "@/core/part";

/** Whatever has firmware or settings of its own: the main processor, or another part by its kind and number, “esc 2”. */
export type Part = "main" | PartName;
/** The program of a part that writes its firmware; it can be another one, where it lives in flash. */
export type LoaderOf = `${Part} loader`;
/** What a step is done to: a part, its loader, the aircraft around them, one of its batteries, or the visit itself. */
export type Subject = Part | LoaderOf | "aircraft" | Battery | "visit";

const LOADER = " loader";
export const loaderOfPart = (part: Part): LoaderOf => `${part}${LOADER}`;
export const isLoader = (subject: Subject): subject is LoaderOf => subject.endsWith(LOADER);
export const isPart = (subject: Subject): subject is Part =>
  subject !== "aircraft" && subject !== "visit" && !isBattery(subject) && !isLoader(subject);

/** A part that stands behind the board, and is reached through it. */
export const isBehind = (subject: Subject): boolean => isPart(subject) && subject !== "main";

/** The part that a loader writes; a part is its own, and so is the main one for whatever is no part. */
export const partOf = (subject: Subject): Part =>
  isLoader(subject) ? (subject.slice(0, -LOADER.length) as Part) : isPart(subject) ? subject : "main";
