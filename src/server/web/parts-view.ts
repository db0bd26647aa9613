import {
  lets,
  LOADER_PART,
  releaseTitle,
  versionsOf,
  type Catalogue,
  type Firmware,
  type Release,
} from "@/core/catalog";
import { oddSentence, partsSentence, wayTo, type OddOne } from "@/core/part";
import type { DetourView, PartChoices, PartsView, PartView } from "@/contracts/answers/parts";
import { planJob, wishFor, type BayLive, type Goal } from "@/core/job";
import { readOutsOfParts } from "@/server/repositories/backups";
import { partsOfAircraft, partStates, type PartState } from "@/server/repositories/fittings";
import type { RegisterRow } from "@/server/repositories/fleet";
import { detoursFor } from "@/server/repositories/settle-parts";
import { aircraftInBay } from "@/server/web/aircraft-in-bay";

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
    supply: part.supply,
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

/** What leads round to parts that the firmware on the board does not reach, each with what it takes. */
async function detoursOf(
  own: Release,
  { id, tag, model_id: modelId }: RegisterRow,
  bay: BayLive,
  catalogue: Catalogue,
): Promise<DetourView[]> {
  const target = bay.ownTarget ?? bay.target ?? "";
  const fitted = await partsOfAircraft(id, modelId);
  const processor = catalogue.models.get(modelId ?? "")?.processor;
  return (await detoursFor(fitted, own, target, catalogue)).flatMap(
    ({ release, isNeighbour, pads, leads, ...detour }) => {
      const goal: Goal = {
        kind: "parts",
        runs: { main: own.id },
        fitted: fitted.filter(({ part }) => wayTo(release, part) !== undefined),
        detour,
      };
      const planned = planJob(goal, wishFor({ tag, goal }, own, processor, catalogue), { "main: shows": "console" });
      if (planned.kind === "none") return [];
      return [
        {
          releaseId: release.id,
          title: detour.title,
          standing: release.standing,
          leads,
          ...(isNeighbour ? { instead: { target: detour.target, pads } } : {}),
          minutes: Math.ceil(planned.moves.reduce((sum, { costS }) => sum + costS, 0) / 60),
          hands: planned.moves.reduce((sum, { hands }) => sum + hands, 0),
        },
      ];
    },
  );
}

/** The parts behind the board in a bay, by the firmware that it runs now, and what they can be given. */
export async function partChoices(bayNo: number): Promise<PartChoices> {
  const { aircraft, live, catalogue, here } = await aircraftInBay(bayNo);
  const view = await partsView(aircraft.id, aircraft.model_id, here);
  const kinds = [...new Set(view.parts.map(({ kind }) => kind))];
  const detours = here ? await detoursOf(here, aircraft, live, catalogue) : [];
  const sources = new Map<string, PartChoices["sources"][string]>();
  for (const kind of kinds)
    sources.set(
      kind,
      (await readOutsOfParts(aircraft.id, kind)).map(({ id, name }) => ({ backupId: id, title: name })),
    );
  return {
    ...view,
    detours,
    releases: Object.fromEntries(kinds.map((kind) => [kind, choicesOf(catalogue, kind)])),
    sources: Object.fromEntries(sources),
  };
}

/** Kinds of parts that can be fitted beside a board, and what each can be. */
export function fittableKinds({ parts }: Catalogue): { part: string; targets: string[] }[] {
  const all = [...parts.values()].filter(({ part }) => part !== LOADER_PART);
  return [...new Set(all.map(({ part }) => part))].map((kind) => ({
    part: kind,
    targets: [...new Set(all.flatMap(({ part, targets }) => (part === kind ? targets.map(({ id }) => id) : [])))],
  }));
}
