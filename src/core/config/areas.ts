/** Subjects of settings, in the order in which a maintainer thinks of them, by the five groups they are shown in. */
export const AREA_GROUPS = {
  Wiring: ["ports", "receiver", "outputs", "sensors"],
  Handling: ["tune", "feel", "mixer", "switches"],
  Safety: ["failsafe", "power", "navigation"],
  Watching: ["display", "lights", "logging"],
  Upkeep: ["identity", "calibration", "housekeeping"],
} as const;

/** One of those below, or one that a release brings. */
export type Area = string;
export type AreaGroup = keyof typeof AREA_GROUPS;

/** The areas that every workshop has. */
export const AREAS: readonly Area[] = Object.values(AREA_GROUPS).flat();

/** The areas that every workshop has, and those that come besides, in their order. */
export const withAreas = (more: Iterable<Area>): Area[] => [...new Set([...AREAS, ...more])];

/** Areas that make the handling of one build: whoever tunes anew leaves these behind. */
export const FEEL_AREAS: ReadonlySet<string> = new Set<Area>(["tune", "feel"]);

/** Areas that say how the aircraft is wired and built. */
export const WIRING_AREAS: ReadonlySet<string> = new Set<Area>([...AREA_GROUPS.Wiring, "mixer", "calibration"]);
