/** Subjects of settings, in the order in which a maintainer thinks of them, by the five groups they are shown in. */
export const AREA_GROUPS = {
  Wiring: ["ports", "receiver", "outputs", "sensors"],
  Handling: ["tune", "feel", "mixer", "switches"],
  Safety: ["failsafe", "power", "navigation"],
  Watching: ["display", "lights", "logging"],
  Upkeep: ["identity", "calibration", "housekeeping"],
} as const;

export type AreaGroup = keyof typeof AREA_GROUPS;
export type Area = (typeof AREA_GROUPS)[AreaGroup][number];

export const AREAS: readonly Area[] = Object.values(AREA_GROUPS).flat();

export function groupOf(area: Area): AreaGroup {
  const found = Object.entries(AREA_GROUPS).find(([, areas]) => (areas as readonly Area[]).includes(area));
  if (!found) throw new Error(`no group holds the area ${area}`);
  return found[0] as AreaGroup;
}
