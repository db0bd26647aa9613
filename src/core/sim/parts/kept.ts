import { defaultOf, layoutOf, type Catalogue, type Firmware, type Layout } from "@/core/catalog";
import { formatValue, limitValue, parseValue, type Spelling, type Value } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { decodeRecords, decodeRegion, encodeRecords, encodeRegion, markOf, type RegionContent } from "@/core/image";

interface Writing {
  readonly spelling: Spelling;
  readonly layout: Layout;
}

/** The values that a part's firmware starts with, by key: what its region holds within its limits, the rest its defaults. */
export function keptValues(
  content: RegionContent,
  release: Firmware,
  target: string,
  { spelling, layout }: Writing,
): Map<string, Value> {
  const values = new Map(release.settings.map((setting) => [setting.key, defaultOf(setting, target)]));
  const own = content.state === "kept" && content.formatMark === markOf(release.region.format);
  if (content.state !== "kept" || (!own && release.region.stale === "refuse")) return values;
  for (const { ordinal, text } of decodeRecords(content.payload, layout)) {
    const setting = release.settings[ordinal];
    if (!setting) continue;
    const value = parseValue(text, setting.type, spelling);
    const limited = value.ok ? limitValue(value.value, setting.type) : undefined;
    if (limited !== undefined) values.set(setting.key, limited);
  }
  return values;
}

/** The region that holds them. */
export const regionOfValues = (
  values: ReadonlyMap<string, Value>,
  release: Firmware,
  { spelling, layout }: Writing,
): Uint8Array =>
  encodeRegion(
    release.region.format,
    encodeRecords(
      release.settings.map((setting, ordinal) => ({
        ordinal,
        profile: 0,
        text: formatValue(values.get(setting.key) ?? setting.default, setting.type, spelling),
      })),
      layout,
    ),
    layout,
  );

/** What a part's firmware keeps once it has started on a region: its values within limits, or its defaults. Undefined where its language is not known. */
export function startedOn(
  held: Uint8Array,
  release: Firmware,
  target: string,
  catalogue: Catalogue,
): Uint8Array | undefined {
  const document = catalogue.idioms.get(release.idiom);
  if (!document) return undefined;
  const writing = { spelling: idiomOf(document).spelling, layout: layoutOf(catalogue, release) };
  return regionOfValues(keptValues(decodeRegion(held, [writing.layout]), release, target, writing), release, writing);
}
