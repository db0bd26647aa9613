import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { Link } from "@/ui/base/link";
import { routesBetween } from "@/core/carryover";
import {
  allFirmware,
  firmwareById,
  lineageOf,
  LOADER_PART,
  MAIN_PART,
  partOf,
  releaseTitle,
  type Catalogue,
  type Firmware,
  type Lineage,
} from "@/core/catalog";
import { changesBetween, type ReleaseChanges } from "@/core/compare";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { ProblemNote } from "@/ui/base/parts";
import { UrlSelect } from "@/ui/base/url-select";
import type { SelectOption } from "@/ui/base/select";
import { ChangesTable } from "@/ui/firmware/changes-table";
import { MoveAlong } from "@/ui/firmware/move-along";
import { Routes } from "@/ui/firmware/routes";
import { changesSentence } from "@/ui/firmware/sentences";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { listTags } from "@/server/repositories/fleet";
import { sideOf, type Side } from "@/server/repositories/sides";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "What a release changes" };

interface Props {
  readonly searchParams: SearchParams;
}

export default async function ChangesPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const [catalogue, tags] = [await loadCatalogue(), await listTags()];
  const releases = allFirmware(catalogue);
  const to = firmwareById(catalogue, oneParam(params.to)) ?? [...catalogue.releases.values()].at(-1);
  const tag = oneParam(params.aircraft);
  let side: Side | undefined;
  let problem: Problem | undefined;
  if (tag !== "")
    try {
      side = await sideOf(`aircraft:${tag}`);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      problem = problemOf(error);
    }
  const alike = releases.filter((release) => to && partOf(release) === partOf(to));
  const from =
    side?.release ??
    alike.find((release) => release.id === oneParam(params.from)) ??
    alike.find((release) => release.id === to?.ancestor) ??
    alike[0];
  const result = from && to && !problem ? changesBetween(from, to, catalogue, side) : undefined;
  if (result && !result.ok) problem = result.problem;
  const optionOf = (release: (typeof releases)[number]): SelectOption => ({
    value: release.id,
    text: releaseTitle(release),
    ...(partOf(release) === MAIN_PART ? {} : { group: partOf(release) }),
  });
  const ofMain = to !== undefined && partOf(to) === MAIN_PART;
  return (
    <>
      <h1 className="mb-3">
        {result?.ok && from && to
          ? changesSentence(result.value, releaseTitle(from), releaseTitle(to), side && aboutOf(side))
          : "What a release changes"}
      </h1>
      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        {!side && <UrlSelect name="from" label="From" value={from?.id ?? ""} options={alike.map(optionOf)} />}
        <UrlSelect name="to" label="To" value={to?.id ?? ""} options={releases.map(optionOf)} />
        {(ofMain || tag !== "") && (
          <UrlSelect
            name="aircraft"
            label="For"
            value={tag}
            none="all that there is"
            options={offered(tags, tag).map((each) => ({
              value: each,
              text: each === tag && side ? (aboutOf(side) ?? each) : each,
            }))}
          />
        )}
        {to && partOf(to) !== LOADER_PART && (
          <Link href={`/firmware/impact?to=${to.id}`}>What it would do to the fleet</Link>
        )}
      </div>
      {problem && <ProblemNote problem={problem} />}
      {result?.ok && from && to && <Found found={result.value} catalogue={catalogue} from={from} to={to} />}
    </>
  );
}

/** Whose values are meant: an aircraft, or a part of it by its read-out. */
const aboutOf = ({ tag, place }: Side) => [tag, place].filter(Boolean).join(" ") || undefined;

/** So many aircraft stand in the list; the others come from their own sheets and from the fleet's view. */
const OFFERED = 300;

const offered = (tags: readonly string[], chosen: string): readonly string[] => {
  const first = tags.slice(0, OFFERED);
  return chosen === "" || first.includes(chosen) ? first : [chosen, ...first];
};

/** The lineage of what runs on one part of an aircraft. */
function ofPart(lineage: Lineage, part: string): Lineage {
  const nodes = lineage.nodes.filter(({ release }) => partOf(release) === part);
  const first = Math.min(...nodes.map(({ lane }) => lane));
  const lanes = 1 + Math.max(...nodes.map(({ lane }) => lane)) - first;
  return { ...lineage, lanes, nodes: nodes.map((node) => ({ ...node, lane: node.lane - first })) };
}

function Found({
  found,
  catalogue,
  from,
  to,
}: {
  readonly found: ReleaseChanges;
  readonly catalogue: Catalogue;
  readonly from: Firmware;
  readonly to: Firmware;
}) {
  return (
    <>
      <Routes
        routes={routesBetween(catalogue, from, to)}
        back={routesBetween(catalogue, to, from)[0]}
        lineage={ofPart(lineageOf(catalogue), partOf(from))}
      />
      <MoveAlong catalogue={catalogue} requirements={found.requirements.map((requirement) => ({ requirement }))} />
      <ChangesTable changes={found.changes} />
    </>
  );
}
