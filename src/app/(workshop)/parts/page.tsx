import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { releaseTitle } from "@/core/catalog";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { partsOfFleet } from "@/server/repositories/fleet-parts";
import { requirePage } from "@/server/web/session";
import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { Empty, Sheet } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { age, dayTime } from "@/ui/base/time";
import { AskParts } from "@/ui/parts/ask-parts";

export const metadata: Metadata = { title: "Parts" };

/** So many are listed; fewer are found by asking for less. */
const MOST = 400;

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** Which parts behind the boards of the fleet are not as they should be. */
export default async function PartsPage({ searchParams }: { readonly searchParams: SearchParams }) {
  await requirePage();
  const params = await searchParams;
  const [all, catalogue] = [await partsOfFleet(), await loadCatalogue()];
  const kinds = [...new Set(all.map(({ kind }) => kind))].toSorted();
  const asked = oneParam(params.kind);
  const kind = kinds.includes(asked) ? asked : "";
  const not = catalogue.parts.get(oneParam(params.not));
  const targets = [
    ...new Set(all.flatMap(({ kind: of, target }) => (kind === "" || of === kind ? (target ?? []) : []))),
  ];
  const built = targets.find((target) => target === oneParam(params.built));
  const ofKind = all.filter(
    (each) => (kind === "" || each.kind === kind) && (built === undefined || each.target === built),
  );
  const found = not ? ofKind.filter((each) => each.kind === not.part && each.releaseId !== not.id) : ofKind;
  const odd = found.filter((each) => each.odd.length > 0).length;
  const releases = [...catalogue.parts.values()].filter(
    ({ part }) => kinds.includes(part) && (kind === "" || part === kind),
  );
  const now = new Date().getTime();
  return (
    <>
      <h1 className="mb-1">
        {not
          ? `${count(found.length, "part is", "parts are")} not ${releaseTitle(not)}${built === undefined ? "" : `, of those built for ${built}`}.`
          : `${count(found.length, "part", "parts")} behind the boards of the fleet${built === undefined ? "" : ` built for ${built}`}${odd > 0 ? `, ${odd} of them the odd one out` : ""}.`}
      </h1>
      <p className="mb-4 text-faded">As each was read out last, with its board.</p>
      <AskParts
        kind={kind}
        not={not?.id ?? ""}
        kinds={kinds}
        built={built ?? ""}
        targets={targets.toSorted()}
        releases={releases.map((release) => ({ id: release.id, title: releaseTitle(release) }))}
      />
      <Sheet label="Parts" className="overflow-x-auto">
        {found.length === 0 ? (
          <Empty>
            {all.length === 0 ? "No part behind a board was read out yet: a job in its bay does." : "None."}
          </Empty>
        ) : (
          <Table
            label="Parts of the fleet"
            rows={found.slice(0, MOST)}
            keyOf={({ tag, kind: of, place }) => `${tag} ${of} ${place}`}
            columns={[
              { head: "Aircraft", names: true, cell: ({ tag }) => <Link href={`/aircraft/${tag}`}>{tag}</Link> },
              { head: "Type", cell: ({ type }) => type },
              { head: "Part", cell: ({ kind: of, place }) => `${of}, ${place}` },
              {
                head: "Runs",
                cell: ({ firmware, backupId }) => (
                  <Link href={`/backups/${backupId ?? 0}`}>{firmware ?? "not known"}</Link>
                ),
              },
              { head: "Built for", cell: ({ target }) => <span className="key">{target ?? "not known"}</span> },
              {
                head: "Read",
                look: "whitespace-nowrap",
                hint: ({ at }) => (at === null ? undefined : dayTime(at)),
                cell: ({ at }) => (at === null ? "" : age(at, now)),
              },
              {
                head: "",
                look: "text-sm",
                cell: ({ odd: differs }) =>
                  differs.map((each) => (
                    <span key={each} className="block">
                      <StateShape shape="triangle" /> {each}
                    </span>
                  )),
              },
            ]}
          />
        )}
      </Sheet>
      {found.length > MOST && (
        <p className="mt-2 text-sm text-faded">
          The first {MOST} of {found.length}.
        </p>
      )}
    </>
  );
}
