import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { Table, type Column } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { Suspense, type ReactNode } from "react";
import {
  allFirmware,
  firmwareById,
  LOADER_PART,
  MAIN_PART,
  partOf,
  releaseTitle,
  type Catalogue,
  type Firmware,
} from "@/core/catalog";
import { HOWS } from "@/core/compare";
import { problemOf } from "@/core/problem";
import { StateShape } from "@/ui/base/mark";
import { Pager } from "@/ui/base/pager";
import { Plate, ProblemNote, Sheet } from "@/ui/base/parts";
import { counted } from "@/ui/base/words";
import { UrlSelect } from "@/ui/base/url-select";
import { ImpactTable } from "@/ui/firmware/changes-table";
import { HOW_SAYS } from "@/ui/firmware/hows";
import { MoveAlong } from "@/ui/firmware/move-along";
import { impactSentence } from "@/ui/firmware/sentences";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { listTypes } from "@/server/repositories/standards";
import { impactOnFleet } from "@/server/web/fleet-impact";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "What a release would do to the fleet" };

interface Props {
  readonly searchParams: SearchParams;
}

/** What has a column of its own; the others are harmless. */
const SHOWN_HOWS = HOWS.filter((how) => how !== "renamed" && how !== "new");

/** So many aircraft stand on a page of the table; what is said of the fleet is said of all. */
const PAGE_AIRCRAFT = 100;

export default async function ImpactPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const [catalogue, types] = [await loadCatalogue(), await listTypes()];
  // a loader keeps no settings that a read-out would show
  const releases = allFirmware(catalogue).filter((release) => partOf(release) !== LOADER_PART);
  const to = firmwareById(catalogue, oneParam(params.to)) ?? [...catalogue.releases.values()].at(-1);
  const type = oneParam(params.type);
  const count = types.reduce((sum, each) => sum + (type === "" || each.type === type ? each.count : 0), 0);
  const choices = (
    <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
      <UrlSelect
        name="to"
        label="Release"
        value={to?.id ?? ""}
        options={releases.map((release) => ({
          value: release.id,
          text: releaseTitle(release),
          ...(partOf(release) === MAIN_PART ? {} : { group: partOf(release) }),
        }))}
      />
      <UrlSelect
        name="type"
        label="Aircraft"
        value={type}
        none="all types"
        options={types.map((t) => ({ value: t.type, text: `${t.type} (${t.count})` }))}
      />
    </div>
  );
  if (!to) return <h1 className="mb-3">What a release would do to the fleet</h1>;
  const waiting = (
    <>
      <h1 className="mb-3">
        <span role="status">Working out what {counted(count, "aircraft", "aircraft")} would meet.</span>
      </h1>
      {choices}
    </>
  );
  return (
    <Suspense key={`${to.id} ${type}`} fallback={waiting}>
      <Impact to={to} type={type} catalogue={catalogue} page={Number(oneParam(params.page))}>
        {choices}
      </Impact>
    </Suspense>
  );
}

interface ImpactProps {
  readonly to: Firmware;
  readonly type: string;
  readonly catalogue: Catalogue;
  readonly page: number;
  readonly children: ReactNode;
}

async function Impact({ to, type, catalogue, page: asked, children }: ImpactProps) {
  const found = await impactOnFleet(to.id, type).catch((error: unknown) => problemOf(error));
  if ("code" in found)
    return (
      <>
        {children}
        <ProblemNote problem={found} />
      </>
    );
  const pages = Math.max(1, Math.ceil(found.aircraft.length / PAGE_AIRCRAFT));
  const page = Math.min(pages, Math.max(1, Math.floor(asked) || 1));
  const looked = found.aircraft.slice((page - 1) * PAGE_AIRCRAFT, page * PAGE_AIRCRAFT);
  return (
    <>
      <h1 className="mb-3">{impactSentence(found, releaseTitle(to), partOf(to))}</h1>
      {children}
      <Pager
        label="Pages of the aircraft"
        page={page}
        pages={pages}
        hrefOf={(next) => `?${new URLSearchParams({ to: to.id, type, page: String(next) }).toString()}`}
      />
      <Sheet label="Aircraft" className="mb-5 overflow-x-auto">
        <Table
          label="Aircraft"
          rows={looked}
          keyOf={({ tag }) => tag}
          columns={[
            {
              head: "Aircraft",
              cell: ({ tag: name }) => {
                const { tag, part, place } = found.whose[name] ?? { tag: name };
                const aircraft = part === undefined ? tag : `${tag}/${part}`;
                const query = new URLSearchParams({ to: to.id, aircraft }).toString();
                return (
                  <Link href={`/firmware/changes?${query}`} className="inline-flex items-baseline gap-2 no-underline">
                    <Plate tag={tag} />
                    {place}
                  </Link>
                );
              },
            },
            {
              head: "Runs",
              cell: ({ from, problem }) => (
                <>
                  {from}
                  {problem && (
                    <span className="block text-sm">
                      <StateShape shape="square" /> {problem.message}.
                    </span>
                  )}
                </>
              ),
            },
            ...SHOWN_HOWS.map((how): Column<(typeof looked)[number]> => ({
              head: HOW_SAYS[how].short,
              headLook: "whitespace-normal",
              counts: true,
              look: ({ counts }) => (counts[how] ? "" : "text-faded"),
              cell: ({ counts, problem }) => (problem ? "" : (counts[how] ?? 0)),
            })),
          ]}
        />
      </Sheet>
      <MoveAlong catalogue={catalogue} requirements={found.requirements} />
      <ImpactTable impacts={found.impacts} />
    </>
  );
}
