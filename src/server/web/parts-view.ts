import {
  findRelease,
  lets,
  LOADER_PART,
  releaseTitle,
  versionsOf,
  type Catalogue,
  type Firmware,
  type Release,
} from "@/core/catalog";
import { oddSentence, partsSentence, wayTo, type OddOne } from "@/core/part";
import type { PartChoices, PartsView, PartView } from "@/contracts/answers/parts";
import { ProblemError } from "@/core/problem";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { partStates, type PartState } from "@/server/repositories/fittings";
import { aircraftById } from "@/server/repositories/fleet";

/** What the firmware on the board wants of a part, and whether what was read of it last is that. */
function wantedOf({ part, read }: PartState, main: Release | undefined): PartView["wanted"] {
  const requirement = main?.requires.find((each) => each.part === part.part);
  if (!main || !requirement) return undefined;
  const says = `${releaseTitle(main)} drives ${requirement.family} ${versionsOf(requirement)}`;
  if (!read) return { says, met: undefined };
  const { family, version } = read.release;
  return { says, met: family === requirement.family && lets(requirement, Number(version)) };
}

function partView(state: PartState, odd: readonly OddOne[], main: Release | undefined): PartView {
  const { part, read } = state;
  const wanted = wantedOf(state, main);
  return {
    name: part.name,
    kind: part.part,
    title: part.title,
    place: part.place,
    target: part.target ?? null,
    ...(read
      ? {
          read: {
            backupId: read.backupId,
            at: read.at.getTime(),
            firmware: releaseTitle(read.release),
            releaseId: read.release.id,
            target: read.target ?? "not known",
            verdict: read.verdict,
          },
        }
      : {}),
    odd: [
      ...odd.filter((each) => each.part.name === part.name).map(oddSentence),
      ...(read && part.target !== undefined && read.target !== part.target
        ? [`The register says ${part.target}, it says ${read.target ?? "nothing"}`]
        : []),
    ],
    ...(wanted ? { wanted } : {}),
  };
}

/** The parts of an aircraft as its sheet shows them. */
export async function partsView(
  aircraftId: number,
  modelId: string | null,
  main: Release | undefined,
): Promise<PartsView> {
  const { parts, odd } = await partStates(aircraftId, modelId);
  const views = parts.map((state) => partView(state, odd, main));
  const kinds = [...new Set(views.map(({ kind }) => kind))];
  return {
    sentence: partsSentence(
      parts.map(({ part, read }) => ({ part, ...(read ? { release: read.release } : {}) })),
      odd,
    ),
    parts: views,
    shut: main ? kinds.filter((kind) => wayTo(main, kind) === undefined) : [],
  };
}

const newestFirst = (a: Firmware, b: Firmware) => Number(b.version) - Number(a.version);

const choicesOf = ({ parts }: Catalogue, kind: string) =>
  [...parts.values()]
    .filter(({ part }) => part === kind)
    .toSorted(newestFirst)
    .map((release) => ({ id: release.id, title: releaseTitle(release) }));

/** The parts behind the board in a bay, by the firmware that it runs now, and what they can be given. */
export async function partChoices(bayNo: number): Promise<PartChoices> {
  const found = await readBay(bayNo);
  const aircraft = found?.live.aircraftId === undefined ? undefined : await aircraftById(found.live.aircraftId);
  if (!found || !aircraft)
    throw new ProblemError({
      code: "board-nobodys",
      message: "The board in this bay is of no aircraft that is known",
      hint: "Say whose it is first",
    });
  const catalogue = await loadCatalogue();
  const here = findRelease(catalogue, found.live.family, found.live.release);
  const view = await partsView(aircraft.id, aircraft.model_id, here.ok ? here.value : undefined);
  const kinds = [...new Set(view.parts.map(({ kind }) => kind))];
  return { ...view, releases: Object.fromEntries(kinds.map((kind) => [kind, choicesOf(catalogue, kind)])) };
}

/** Kinds of parts that can be fitted beside a board, and what each can be. */
export function fittableKinds({ parts }: Catalogue): { part: string; targets: string[] }[] {
  const all = [...parts.values()].filter(({ part }) => part !== LOADER_PART);
  return [...new Set(all.map(({ part }) => part))].map((kind) => ({
    part: kind,
    targets: [...new Set(all.flatMap(({ part, targets }) => (part === kind ? targets.map(({ id }) => id) : [])))],
  }));
}
