import { defaultOf, indexOf, type Firmware } from "@/core/catalog";
import { equalValues } from "@/core/config";
import type { Plan, SettingItem } from "@/core/carryover/plan";

const SHOWN = 3;

/** Settings that are measured on one board: calibration, for the most part. */
function measured({ items }: Plan, to: Firmware): SettingItem[] {
  return items.filter(
    (item): item is SettingItem =>
      item.kind === "setting" &&
      indexOf(to).settings.get(item.id.slice(item.id.indexOf("/") + 1))?.belongsTo === "board",
  );
}

interface Measured {
  /** This board's own, which somebody measured on it. */
  readonly kept: readonly SettingItem[];
  /** Nobody measured them on this board: what another board had measured did not come, and its own is the default. */
  readonly bare: readonly SettingItem[];
}

function measuredOf(plan: Plan, to: Firmware): Measured {
  const all = measured(plan, to);
  const own = all.filter(({ ofBoard }: SettingItem & { ofBoard?: true }) => ofBoard);
  const left = all.filter(({ outcome, from }) => outcome === "left-out" && from !== undefined);
  const isBare = ({ to: side }: SettingItem) => {
    const setting = side && indexOf(to).settings.get(side.key);
    return !side || !setting || equalValues(side.value, defaultOf(setting, plan.to.target), setting.type);
  };
  return { kept: own.filter((item) => !isBare(item)), bare: [...own.filter(isBare), ...left] };
}

/** Settings that are to be measured on this board, because what another board had measured did not come along. */
export const toMeasure = (plan: Plan, to: Firmware): readonly SettingItem[] => measuredOf(plan, to).bare;

/** “Gyro at rest, Level trim and others”: each by what it is, without its axes. */
export function measuredNames(items: readonly SettingItem[]): string {
  const named = [...new Set(items.map(({ title }) => title.split(",")[0] ?? title))];
  return `${named.slice(0, SHOWN).join(", ")}${named.length > SHOWN ? " and others" : ""}`;
}

/**
 * What has to be looked at because values were measured on another board and did not come along: a sentence, with what is to
 * be measured where nobody did so on this one. Undefined where nothing was left behind.
 */
export function measuredElsewhere(plan: Plan, to: Firmware): string | undefined {
  const { kept, bare } = measuredOf(plan, to);
  if (kept.length + bare.length === 0) return undefined;
  return bare.length === 0
    ? `What was measured on another board stays behind; this board keeps its own: ${measuredNames(kept)}.`
    : `What was measured on another board stays behind, and nobody has measured it on this one: ${measuredNames(bare)}. A step of the job asks for it before it is signed off.`;
}
