import { playOnTwin, type TwinInput } from "@/core/job/twin";
import type { Problem } from "@/core/problem";
import type { InspectedEntry, Rereading } from "@/contracts/answers/read-outs";
import { inspectFile } from "@/server/repositories/intake";
import { campaignPlans } from "@/server/repositories/campaign-plans";
import { fileBroughtReadout, type Brought } from "@/server/repositories/brought";
import {
  catalogueOf,
  importDocument,
  importImage,
  type Imported,
  type PinnedDocument,
} from "@/server/repositories/catalogue";
import { impactOn } from "@/server/repositories/impact";
import { keepLearnt, learnText, readinessFor } from "@/server/repositories/learning";
import { importPack, previewPack, type PackImported, type PackPreview } from "@/server/repositories/packs";
import { previewDocuments } from "@/server/repositories/preview";
import { textOf } from "@/server/repositories/readings";

export interface LearnAsked {
  readonly raw: Uint8Array;
  readonly idiom: string | undefined;
  readonly about: { readonly family?: string; readonly version?: string };
  readonly keep: boolean;
  readonly account: string;
}

const text = (raw: Uint8Array) => new TextDecoder().decode(raw);

/** Everything that reads files which somebody brought. Each runs in a process of its own, which is ended at its limits. */
export const TASKS = {
  inspect: ({ raw, name }: { raw: Uint8Array; name: string }): Promise<InspectedEntry[]> => inspectFile(raw, name),
  "file-readout": (brought: Brought) => fileBroughtReadout(brought),
  learn: async ({ raw, idiom, about, keep, account }: LearnAsked) => {
    const learnt = await learnText(textOf(raw), idiom, about);
    if (!keep) return learnt;
    const kept = await keepLearnt(learnt, account);
    return { ...learnt, kept, ready: await readinessFor(kept.id, learnt.left.length) };
  },
  "preview-document": ({ raw }: { raw: Uint8Array }): Promise<Rereading> => previewDocuments([text(raw)]),
  "import-document": ({ raw, account }: { raw: Uint8Array; account: string }): Promise<Imported> =>
    importDocument(text(raw), account),
  "preview-pack": ({ raw }: { raw: Uint8Array }): Promise<PackPreview> => previewPack(raw),
  "import-pack": ({ raw, over, account }: { raw: Uint8Array; over: boolean; account: string }): Promise<PackImported> =>
    importPack(raw, over, account),
  /** The lines of a job's plan on a board that does not exist; by the documents that the job goes by. */
  "play-twin": async ({ pins, input }: { pins: readonly PinnedDocument[] | null; input: TwinInput }) =>
    playOnTwin(input, await catalogueOf(pins)),
  /** What each aircraft of a campaign would meet. */
  "campaign-plans": ({ campaignId }: { campaignId: number }) => campaignPlans(campaignId),
  /** What a release would do to each aircraft. */
  "fleet-impact": ({ releaseId, type }: { releaseId: string; type: string }) => impactOn(releaseId, type),
  "import-image": ({ raw, account }: { raw: Uint8Array; account: string }) => importImage(raw, account),
};

export type TaskName = keyof typeof TASKS;
export type TaskInput<K extends TaskName> = Parameters<(typeof TASKS)[K]>[0];
export type TaskResult<K extends TaskName> = Awaited<ReturnType<(typeof TASKS)[K]>>;

/** What goes to a reader process and comes back (structured clone over the pipe between them). */
export interface Asked {
  readonly id: number;
  readonly task: TaskName;
  readonly input: unknown;
}
export type Answered =
  | { readonly id: number; readonly ok: true; readonly value: unknown }
  | { readonly id: number; readonly ok: false; readonly problem: Problem };
