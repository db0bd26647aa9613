import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import Link from "next/link";
import { releaseTitle } from "@/core/catalog";
import { fleetImpact, HOWS } from "@/core/compare";
import { StateShape } from "@/ui/base/mark";
import { Pager } from "@/ui/base/pager";
import { Plate, Sheet } from "@/ui/base/parts";
import { UrlSelect } from "@/ui/base/url-select";
import { HOW_SHORT, ImpactTable } from "@/ui/firmware/changes-table";
import { MoveAlong } from "@/ui/firmware/move-along";
import { impactSentence } from "@/ui/firmware/sentences";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import { listTypes, membersOf } from "@/server/repositories/standards";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "What a release would do to the fleet" };

interface Props {
  readonly searchParams: SearchParams;
}

/** What has a column of its own; the others are harmless. */
const SHOWN_HOWS = HOWS.filter((how) => how !== "renamed" && how !== "new");

/** So many aircraft are worked out at once; a larger fleet is looked at page by page. */
const PAGE_AIRCRAFT = 100;

export default async function ImpactPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const [catalogue, types] = [await loadCatalogue(), await listTypes()];
  const releases = [...catalogue.releases.values()];
  const to = catalogue.releases.get(oneParam(params.to)) ?? releases.at(-1);
  const type = oneParam(params.type);
  const wanted = types.filter((t) => type === "" || t.type === type).map((t) => t.type);
  const members = (await Promise.all(wanted.map(membersOf))).flat().toSorted((a, b) => (a.tag < b.tag ? -1 : 1));
  const pages = Math.max(1, Math.ceil(members.length / PAGE_AIRCRAFT));
  const page = Math.min(pages, Math.max(1, Math.floor(Number(oneParam(params.page))) || 1));
  const first = (page - 1) * PAGE_AIRCRAFT;
  const looked = members.slice(first, first + PAGE_AIRCRAFT);
  const fleet = [];
  for (const member of looked) {
    if (member.sha256 === null) continue;
    const { configuration, release } = await readingOf(member.sha256);
    fleet.push({ tag: member.tag, configuration, release });
  }
  const found = to && fleetImpact(fleet, to, catalogue);
  return (
    <>
      <h1 className="mb-3">
        {pages > 1 && `Aircraft ${first + 1} to ${first + looked.length} of ${members.length}: `}
        {found ? impactSentence(found, releaseTitle(to)) : "What a release would do to the fleet"}
      </h1>
      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        <UrlSelect
          name="to"
          label="Release"
          value={to?.id ?? ""}
          options={releases.map((release) => ({ value: release.id, text: releaseTitle(release) }))}
        />
        <UrlSelect
          name="type"
          label="Aircraft"
          value={type}
          none="all types"
          options={types.map((t) => ({ value: t.type, text: `${t.type} (${t.count})` }))}
        />
        <Pager
          label="Pages of the fleet"
          page={page}
          pages={pages}
          hrefOf={(next) => `?${new URLSearchParams({ to: to?.id ?? "", type, page: String(next) }).toString()}`}
        />
      </div>
      {found && (
        <>
          <Sheet label="Aircraft" className="mb-5 overflow-x-auto">
            <table aria-label="Aircraft">
              <thead>
                <tr>
                  <th>Aircraft</th>
                  <th>Runs</th>
                  {SHOWN_HOWS.map((how) => (
                    <th key={how} className="text-right whitespace-normal">
                      {HOW_SHORT[how]}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {found.aircraft.map((aircraft) => (
                  <tr key={aircraft.tag}>
                    <td>
                      <Link href={`/firmware/changes?to=${to.id}&aircraft=${aircraft.tag}`} className="no-underline">
                        <Plate tag={aircraft.tag} />
                      </Link>
                    </td>
                    <td>{aircraft.from}</td>
                    {aircraft.problem ? (
                      <td colSpan={SHOWN_HOWS.length} className="text-sm">
                        <StateShape shape="square" /> {aircraft.problem.message}.
                      </td>
                    ) : (
                      SHOWN_HOWS.map((how) => (
                        <td key={how} className={`text-right ${aircraft.counts[how] ? "" : "text-faded"}`}>
                          {aircraft.counts[how] ?? 0}
                        </td>
                      ))
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
          </Sheet>
          <MoveAlong catalogue={catalogue} requirements={found.requirements} />
          <ImpactTable impacts={found.impacts} />
        </>
      )}
    </>
  );
}
