import { defaultOf, indexOf, type Release } from "@/core/catalog";
import { equalValues } from "@/core/config";
import type { Plan, SettingItem } from "@/core/carryover/plan";

const SHOWN = 3;

/** Settings that are measured on one board: calibration, for the most part. */
function measured({ items }: Plan, to: Release): SettingItem[] {
  return items.filter(
    (item): item is SettingItem =>
      item.kind === "setting" &&
      indexOf(to).settings.get(item.id.slice(item.id.indexOf("/") + 1))?.belongsTo === "board",
  );
}

/**
 * What has to be looked at because values were measured on another board and did not come along: a sentence, with what is to
 * be checked where nobody measured them on this one. Undefined where nothing was left behind.
 */
export function measuredElsewhere(plan: Plan, to: Release): string | undefined {
  const all = measured(plan, to);
  const kept = all.filter(({ ofBoard }: SettingItem & { ofBoard?: true }) => ofBoard);
  const left = all.filter(({ outcome, from }) => outcome === "left-out" && from !== undefined);
  if (kept.length + left.length === 0) return undefined;
  const isBare = ({ to: side }: SettingItem) => {
    const setting = side && indexOf(to).settings.get(side.key);
    return !side || !setting || equalValues(side.value, defaultOf(setting, plan.to.target), setting.type);
  };
  const bare = [...kept.filter(isBare), ...left];
  const named = [...new Set((bare.length > 0 ? bare : kept).map(({ title }) => title.split(",")[0] ?? title))];
  const list = `${named.slice(0, SHOWN).join(", ")}${named.length > SHOWN ? " and others" : ""}`;
  return bare.length === 0
    ? `What was measured on another board stays behind; this board keeps its own: ${list}.`
    : `What was measured on another board stays behind, and nobody has measured it on this one: ${list}. Calibrate it, and hold it against the level before it flies.`;
}
