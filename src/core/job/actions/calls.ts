import type { Terms } from "@/core/job/action";

/** Why a check is called for: the settings of what flies are written anew. */
export const settingsChange = ({ wanted }: Terms): string | undefined =>
  wanted["main: settings proved"] === undefined ? undefined : "its settings are written anew";
