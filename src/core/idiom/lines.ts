import type { Release } from "@/core/catalog";
import type { Idiom } from "@/core/idiom/definition";
import { formWriter } from "@/core/idiom/form-writer";
import type { LineWriter } from "@/core/idiom/line-writer";
import { recordWriter } from "@/core/idiom/record-writer";

export type { LineWriter, WrittenValue } from "@/core/idiom/line-writer";

/** Writes what a console of the idiom reads, for a release. */
export function lineWriter(release: Release, idiom: Idiom): LineWriter {
  return idiom.style === "record" ? recordWriter(release, idiom) : formWriter(release, idiom);
}
