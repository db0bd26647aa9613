import type { Metadata } from "next";
import { told } from "@/app/told";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { oneParam, type SearchParams } from "@/app/params";
import { asOfNewest, driftSentence, sinceWhen, withoutAllowed, type Allowance, type Drift } from "@/core/compare";
import { indexOf, releaseTitle, type Release } from "@/core/catalog";
import { Empty, LinkButton, Sheet } from "@/ui/base/parts";
import { dayTime, day } from "@/ui/base/time";
import { AllowDifference, Allowances, type AllowanceView } from "@/ui/compare/allowances";
import { DriftGrid } from "@/ui/compare/drift-grid";
import { driftGridData } from "@/ui/compare/drift-grid-data";
import { driftLines } from "@/ui/compare/drift-lines";
import { DriftMatrix } from "@/ui/compare/drift-matrix";
import { BehindDrift, behindSentence } from "@/ui/compare/behind-drift";
import { DriftTable } from "@/ui/compare/drift-table";
import { UrlSwitch } from "@/ui/base/url-switch";
import { MakeStandard, RaiseStandard } from "@/ui/compare/standard-forms";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { allowancesOf, driftOf } from "@/server/repositories/policy";
import { partsDriftOf, withoutAllowedParts } from "@/server/repositories/parts-drift";
import { readingsOf } from "@/server/repositories/sides";
import { listTypes, membersOf, standardsOf, type FleetMember } from "@/server/repositories/standards";
import { aircraftByTag } from "@/server/repositories/fleet";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ type: string }>;
  readonly searchParams: SearchParams;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: `${decodeURIComponent((await params).type)} against its standard` };
}

/** Above so many aircraft off their standard they are listed by setting, and the matrix is drawn only when asked for. */
const MATRIX_AIRCRAFT = 10;

async function sinceTexts(drift: Drift): Promise<Map<string, string>> {
  const catalogue = await loadCatalogue();
  const sinceByCell = new Map<string, string>();
  for (const row of drift.rows.filter((r) => r.cells.length > 0)) {
    const aircraft = await aircraftByTag(row.tag);
    if (!aircraft) continue;
    const readings = await readingsOf(aircraft.id);
    const since = sinceWhen(asOfNewest(readings, catalogue));
    for (const cell of row.cells) {
      const found = since.get(cell.column);
      if (found && readings.length > 1)
        sinceByCell.set(
          `${row.tag} ${cell.column}`,
          found.id === readings[0]?.id ? `${day(found.at)} or before` : `since ${day(found.at)}`,
        );
    }
  }
  return sinceByCell;
}

async function FleetDriftPage({ params, searchParams }: Props) {
  const account = await requirePage();
  const type = decodeURIComponent((await params).type);
  const [members, standards, types] = [await membersOf(type), await standardsOf(type), await listTypes()];
  if (members.length === 0) notFound();
  const query = await searchParams;
  const asked = Number(oneParam(query.version));
  const standard = standards.find((s) => s.version === asked) ?? standards[0];
  const catalogue = await loadCatalogue();
  const release = catalogue.releases.get(standard?.release_id ?? "");
  const isLead = mayActAs(account.role, "lead");
  const allowances = await allowancesOf(type);
  const judged = standard && withoutAllowed(await driftOf(standard, members), allowances);
  const drift = judged?.drift;
  const behind =
    standard &&
    (await partsDriftOf(
      standard,
      members.map(({ tag }) => tag),
    ));
  const judgedBehind = behind && withoutAllowedParts(behind, allowances);
  const parts = behind && judgedBehind && { ...behind, drift: judgedBehind.drift };
  const off = drift?.rows.filter((row) => row.cells.length > 0) ?? [];
  const asMatrix = oneParam(query.view) === "matrix";
  return (
    <>
      <h1>
        {drift && parts
          ? [driftSentence(type, drift), behindSentence(parts)].filter(Boolean).join(" ")
          : `${type} has no standard yet.`}
      </h1>
      <nav aria-label="Types" className="mt-1 mb-4 flex flex-wrap gap-x-4 text-sm">
        {types.map((t) => (
          <Link
            key={t.type}
            href={`/compare/fleet/${encodeURIComponent(t.type)}`}
            className="min-h-6 aria-[current]:font-semibold aria-[current]:text-ink aria-[current]:no-underline"
            {...(t.type === type ? { "aria-current": "page" as const } : {})}
          >
            {t.type} {t.count}
          </Link>
        ))}
      </nav>
      <Sheet label="Standard" className="mb-5 px-4 py-3">
        {standard ? (
          <p className="text-sm">
            <b>
              {type} standard {standard.version}
            </b>
            {release && `, ${releaseTitle(release)}`}, from{" "}
            <Link href={`/backups/${standard.backup_id}`}>{standard.backup_name}</Link>, by {standard.made_by} on{" "}
            {dayTime(standard.made_at.getTime())}
            {standard.note === "" ? "." : `: ${standard.note}.`}
            {standards.length > 1 && (
              <>
                {" "}
                Earlier:{" "}
                {standards
                  .filter((s) => s.version !== standard.version)
                  .map((s) => (
                    <Link key={s.version} href={`?version=${s.version}`} className="mr-2">
                      {s.version}
                    </Link>
                  ))}
              </>
            )}
          </p>
        ) : (
          <p className="text-sm text-faded">
            A standard is the configuration of one aircraft of the type that all are compared with. What belongs to one
            board or airframe alone is left aside.
          </p>
        )}
        {isLead && (
          <div className="mt-2 flex flex-wrap gap-2">
            <MakeStandard
              type={type}
              choices={members.flatMap((m) => (m.backup_id === null ? [] : [{ tag: m.tag, backupId: m.backup_id }]))}
            />
            {standard && release && (
              <RaiseStandard
                standardId={standard.id}
                releases={[...catalogue.releases.values()]
                  .filter((r) => r.id !== release.id)
                  .map((r) => ({ id: r.id, title: releaseTitle(r) }))}
              />
            )}
            {standard && drift && (
              <AllowDifference
                key={allowances.length}
                type={type}
                areas={(release?.areas ?? []).map(({ name }) => name)}
                places={[...drift.columns, ...(parts?.drift.columns ?? [])].map(({ id, title, place }) => ({
                  id,
                  title: `${title} (${place})`,
                }))}
                tags={members.map(({ tag }) => tag)}
              />
            )}
            {off.length > 0 && (
              <LinkButton href={`/campaigns?type=${encodeURIComponent(type)}`}>Bring them back to it</LinkButton>
            )}
          </div>
        )}
        {judged && (
          <Allowances
            allowances={allowanceViews(
              allowances,
              new Map([...judged.allowed, ...(judgedBehind?.allowed ?? [])]),
              release,
              behind?.drift,
            )}
            isLead={isLead}
          />
        )}
      </Sheet>
      {standard &&
        drift &&
        (off.length === 0 ? (
          <Empty>Nothing to show: every aircraft that could be compared holds what the standard holds.</Empty>
        ) : (
          <>
            <div className="mb-2 flex flex-wrap items-center gap-x-5">
              <UrlSwitch name="view" value="matrix" label="As one matrix, aircraft × settings" />
              {asMatrix && <UrlSwitch name="only" value="flies" label="Only what changes how it flies" />}
            </div>
            {asMatrix ? (
              <DriftGrid
                data={driftGridData(drift, oneParam(query.only) === "flies")}
                standardRef={`standard:${standard.id}`}
              />
            ) : off.length <= MATRIX_AIRCRAFT ? (
              <DriftMatrix drift={drift} standardRef={`standard:${standard.id}`} since={await sinceTexts(drift)} />
            ) : (
              <DriftTable lines={driftLines(drift)} standardRef={`standard:${standard.id}`} />
            )}
          </>
        ))}
      {standard && parts && <BehindDrift behind={parts} standardRef={`standard:${standard.id}`} />}
      {drift && <Asides drift={drift} members={members} />}
    </>
  );
}

/** What is allowed, in words: a place by the title that its setting or row has. */
function allowanceViews(
  allowances: readonly Allowance[],
  allowed: ReadonlyMap<number, number>,
  release: Release | undefined,
  behind: Drift | undefined,
): AllowanceView[] {
  const titleOf = (name: string) => {
    const ofPart = behind?.columns.find(({ id }) => id === name);
    if (ofPart) return `${ofPart.title}, ${ofPart.place}`;
    const key = name.slice(name.indexOf("/") + 1);
    return release && indexOf(release).settings.get(key)?.title;
  };
  return allowances.map(({ id, kind, name, tag, reason, account, at }) => ({
    ...{ id, reason, account, when: dayTime(at), count: allowed.get(id) ?? 0 },
    what: kind === "area" ? name : `${titleOf(name) ?? name} (${name})`,
    ...(tag === undefined ? {} : { tag }),
  }));
}

function Asides({ drift, members }: { readonly drift: Drift; readonly members: readonly FleetMember[] }) {
  const alike = drift.rows.filter((row) => row.cells.length === 0 && !row.problem).map((row) => row.tag);
  const carried = drift.rows.filter((row) => row.carried !== undefined);
  const bare = members.filter((member) => member.sha256 === null).map((member) => member.tag);
  return (
    <div className="mt-4 grid gap-1 text-sm text-faded">
      {alike.length > 0 && (
        <p>
          As the standard: {alike.slice(0, 40).join(", ")}
          {alike.length > 40 ? ` and ${alike.length - 40} more` : ""}.
        </p>
      )}
      {carried.length > 0 && (
        <p>
          On another release, the standard was carried there first, so the same values are not the same aircraft:{" "}
          {carried
            .slice(0, 12)
            .map((row) => `${row.tag} (${row.carried ?? ""})`)
            .join(", ")}
          .
        </p>
      )}
      {bare.length > 0 && <p>Never read out: {bare.slice(0, 40).join(", ")}.</p>}
      {drift.rows
        .filter((row) => row.problem)
        .slice(0, 12)
        .map((row) => (
          <p key={row.tag}>
            {row.tag}: {row.problem?.message}.
          </p>
        ))}
    </div>
  );
}

/** Of a type whose standard cannot be read: its other versions. */
async function Rest({ params }: Props) {
  const type = decodeURIComponent((await params).type);
  return (
    <div>
      <h1>{type} cannot be compared with its standard.</h1>
      <ul className="mt-1 flex flex-wrap gap-3 text-sm">
        {(await standardsOf(type)).map(({ version, backup_id: id, backup_name: name }) => (
          <li key={version}>
            Standard {version}: <Link href={`/backups/${id}`}>{name}</Link> ·{" "}
            <Link href={`?version=${version}`}>compare with it</Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

export default told(FleetDriftPage, Rest);
