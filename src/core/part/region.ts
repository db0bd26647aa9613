import { defaultOf, layoutOf, releaseTitle, type Catalogue, type Firmware } from "@/core/catalog";
import { addressId, formatValue, settingsByAddress, type Configuration } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { encodeRecords, encodeRegion } from "@/core/image";
import { ok, refuse, type Result } from "@/core/problem";

/**
 * The settings region of a part that holds a configuration, as its release keeps it; what the configuration does not say
 * stands at the default of its target. Refuses a release whose language the catalogue lacks.
 */
export function regionHolding(
  configuration: Pick<Configuration, "settings" | "identity" | "rows" | "active" | "unknown">,
  release: Firmware,
  catalogue: Catalogue,
): Result<Uint8Array> {
  const document = catalogue.idioms.get(release.idiom);
  if (!document)
    return refuse({
      code: "idiom-none",
      message: `The catalogue has no idiom “${release.idiom}”, in which ${releaseTitle(release)} writes its values`,
      hint: "Import it under Firmware",
    });
  const { spelling } = idiomOf(document);
  const layout = layoutOf(catalogue, release);
  const held = settingsByAddress(configuration);
  const records = release.settings.map((setting, ordinal) => {
    const value = held.get(addressId({ scope: "system", key: setting.key }))?.value;
    const fallback = defaultOf(setting, configuration.identity.target);
    return { ordinal, profile: 0, text: formatValue(value ?? fallback, setting.type, spelling) };
  });
  return ok(encodeRegion(release.region.format, encodeRecords(records, layout), layout));
}
