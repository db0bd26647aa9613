import { MAIN_PART, partOf, type Firmware, type SettingDefinition } from "@/core/catalog";
import type { Comparison, Difference, Resolved } from "@/core/compare";
import type { Area } from "@/core/config";

/** Something that is not as it was, as far as a check can be called for by it. */
export interface Touched {
  readonly id: string;
  readonly title: string;
  /** An area; “firmware” for the build itself, “profiles” for what is in use, “lines” for what nobody understands. */
  readonly area: Area;
  readonly flies: boolean;
  /** “150 ° against 90 °”; absent where a sentence says it. */
  readonly how?: string;
  /** It cannot be told whether it is as it was. */
  readonly unsure: boolean;
  /** How it can limit flight, in a sentence. */
  readonly restricts?: string;
  /** It says how the board is turned in the airframe. */
  readonly mounts?: true;
  /** It says on which port the receiver is heard. */
  readonly receives?: true;
  /** The processor sets a limit to it. */
  readonly loads?: true;
}

/** What two configurations differ in. Values that belong to one board or airframe alone count where both were read of the same part. */
export function touchedBy(comparison: Comparison, samePart: boolean): Touched[] {
  const { differences, behaviour, unsure, personal, identity, sides } = comparison;
  const built = identity.filter(({ what }) => what !== "board");
  return [
    ...built.flatMap(({ what, left, right }) =>
      areasOfFirmware(sides.left.release).map(({ area, flies }): Touched => ({
        ...{ id: `firmware ${what} ${area}`, title: `The ${what} of the firmware`, area },
        ...{ flies, how: `${left} against ${right}`, unsure: false },
      })),
    ),
    ...[...differences, ...behaviour, ...unsure, ...(samePart ? personal : [])].map((each) => touched(each, sides)),
  ];
}

/** What another firmware touches: of the board all, of a part behind it what its settings are about. */
function areasOfFirmware(release: Firmware): { readonly area: Area; readonly flies: boolean }[] {
  if (partOf(release) === MAIN_PART) return [{ area: "firmware", flies: true }];
  const areas = new Set(release.settings.map(({ area }) => area));
  return [...areas].map((area) => ({
    area,
    flies: release.settings.some((setting) => setting.area === area && setting.flies),
  }));
}

function touched(difference: Difference, { left, right }: Comparison["sides"]): Touched {
  const { id, title, area, flies, cause } = difference;
  const setting = (left.values.get(id) ?? right.values.get(id))?.setting;
  const [mine, theirs] = [difference.left?.shown, difference.right?.shown];
  return {
    ...{ id, title, area, flies, unsure: cause === "unsure" },
    ...(cause === "behaviour" || cause === "unsure"
      ? {}
      : { how: `${mine ?? "nothing"} against ${theirs ?? "nothing"}` }),
    ...(setting ? ofSetting(setting, left) : {}),
    ...(difference.kind === "row" && servesReceiver(id, left, right) ? { receives: true } : {}),
  };
}

function ofSetting({ restricts, maxByProcessor, concept }: SettingDefinition, { release }: Resolved) {
  return {
    ...(restricts === undefined ? {} : { restricts }),
    ...(maxByProcessor ? ({ loads: true } as const) : {}),
    ...(concept && concept.id === release.pins?.mounted ? ({ mounts: true } as const) : {}),
  };
}

/** Whether a row, on either side, is that of the port which the receiver is soldered to. */
function servesReceiver(id: string, left: Resolved, right: Resolved): boolean {
  const ports = left.release.pins?.ports;
  if (ports?.receiver === undefined) return false;
  return [left, right].some((side) => {
    const row = side.rows.get(id.slice("row ".length));
    return row?.table === ports.table && row.cells[ports.use] === ports.receiver;
  });
}
