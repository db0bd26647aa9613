import { stringify } from "yaml";
import { releaseById, type Catalogue } from "@/core/catalog";
import { idiomOf, likeliestIdiom } from "@/core/idiom";
import {
  learnRelease,
  proposePassage,
  readinessOf,
  type LearntRelease,
  type ProposedPassage,
  type Readiness,
} from "@/core/learn";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { currentDocuments, importDocument, loadCatalogue, type Imported } from "@/server/repositories/catalogue";

/** Learns a release in the idiom named; without a name, in the one that makes most of the text. */
export async function learnText(
  text: string,
  idiomId: string | undefined,
  about: { family?: string; version?: string },
): Promise<LearntRelease> {
  const catalogue = await loadCatalogue();
  const idioms = [...catalogue.idioms.values()].map(idiomOf);
  const idiom = idiomId === undefined ? likeliestIdiom(text, idioms) : idioms.find((each) => each.id === idiomId);
  if (!idiom)
    throw new ProblemError(
      idiomId === undefined
        ? {
            code: "learn-nothing",
            message: "No idiom of the catalogue finds a setting in this text",
            detail: `Tried: ${idioms.map((each) => each.title).join(", ")}`,
            hint: "Write its idiom in the workshop, beside the text",
          }
        : { code: "idiom-none", message: `The catalogue has no idiom “${idiomId}”` },
    );
  return valueOf(learnRelease(text, idiom, catalogue, about));
}

/** Keeps a learnt release as a document. One that stands already is not overwritten by guesses. */
export async function keepLearnt(learnt: LearntRelease, account: string): Promise<Imported> {
  const id = String(learnt.document.id);
  if ((await loadCatalogue()).releases.has(id))
    throw new ProblemError({
      code: "release-known",
      message: `The catalogue has a release “${id}” already`,
      hint: "Give it another family or version, or import the document by hand",
    });
  return importDocument(stringify(learnt.document, { lineWidth: 0 }), account);
}

/** What a release that stands in the workshop is good for, and what other work wants. */
export async function readinessFor(releaseId: string, leftOver: number): Promise<Readiness[]> {
  const catalogue = await loadCatalogue();
  const release = catalogue.releases.get(releaseId);
  const document = catalogue.idioms.get(release?.idiom ?? "");
  const images = await getDb().ImageRow.count({ where: { release_id: releaseId } });
  return readinessOf({
    catalogue,
    leftOver,
    images,
    ...(release ? { release } : {}),
    ...(document ? { idiom: idiomOf(document) } : {}),
  });
}

export function proposalFor(catalogue: Catalogue, from: string, to: string): ProposedPassage {
  return proposePassage(valueOf(releaseById(catalogue, from)), valueOf(releaseById(catalogue, to)));
}

/** Writes the confirmed rules of a proposal into the newer release's document. */
export async function confirmPassage(
  from: string,
  to: string,
  chosen: readonly number[],
  account: string,
): Promise<Imported> {
  const catalogue = await loadCatalogue();
  const { rules } = proposalFor(catalogue, from, to);
  const confirmed = chosen.map((place) => {
    const proposed = rules[place];
    if (!proposed)
      throw new ProblemError({ code: "rule-none", message: "The proposal has no such rule", detail: String(place) });
    return proposed.rule;
  });
  const current = (await currentDocuments("release")).find((each) => each.id === to);
  if (!current) throw new ProblemError({ code: "release-unknown", message: `The catalogue has no release “${to}”` });
  const passages = (current.body.passages ?? []) as { from: string; rules: unknown[] }[];
  if (current.body.inherits === from || passages.some((passage) => passage.from === from))
    throw new ProblemError({
      code: "passage-known",
      message: "A passage between the two stands already",
      hint: "Change it in the release's document",
    });
  const body = { ...current.body, passages: [...passages, { from, rules: confirmed }] };
  return importDocument(stringify(body, { lineWidth: 0 }), account);
}
