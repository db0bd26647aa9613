import { baysBench } from "./bays";
import { carryoverBench } from "./carryover";
import { computationBench } from "./computation";
import { configurationBench } from "./configuration";
import { growthBench } from "./growth";
import { imageBench } from "./images";
import { languagesBench, proposalsBench } from "./languages";
import { loadersBench } from "./loaders";
import { partsBench } from "./parts";
import { planningBench } from "./planning";
import { restoreBench } from "./restore";
import { targetsBench } from "./targets";

export interface Section {
  readonly run: (say: (text?: string) => void) => void | Promise<void>;
  /** In virtual time, or counted: the same on every machine and each time. */
  readonly exact?: true;
}

/** What `docs/performance.md` holds, in its order. */
export const SECTIONS: Readonly<Record<string, Section>> = {
  restore: { run: restoreBench, exact: true },
  loaders: { run: loadersBench, exact: true },
  parts: { run: partsBench, exact: true },
  bays: { run: baysBench },
  configuration: { run: configurationBench },
  growth: { run: growthBench },
  languages: { run: languagesBench },
  proposals: { run: proposalsBench, exact: true },
  carryover: { run: carryoverBench },
  planning: { run: planningBench },
  images: { run: imageBench },
  targets: { run: targetsBench, exact: true },
  computation: { run: computationBench },
};
