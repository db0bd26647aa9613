import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { told } from "@/app/told";
import { oneParam, type SearchParams } from "@/app/params";
import { findTarget, releaseTitle } from "@/core/catalog";
import { compareTargets, nearestTargets, newestBuildOf, targetLines, type Nearness } from "@/core/identify";
import { Empty, Sheet } from "@/ui/base/parts";
import { StateShape } from "@/ui/base/mark";
import { UrlSelect } from "@/ui/base/url-select";
import { BoardDrawing, type PadTag } from "@/ui/boards/board-drawing";
import { nearSentence } from "@/ui/boards/sentences";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { padsOfAircraft, tagsWithReadouts } from "@/server/repositories/evidence";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Compare targets" };

interface Props {
  readonly searchParams: SearchParams;
}

async function TargetsPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const catalogue = await loadCatalogue();
  const tag = oneParam(params.aircraft);
  const aircraft = tag === "" ? undefined : await padsOfAircraft(tag, catalogue);
  const lines = targetLines(catalogue);
  const wanted = [oneParam(params.here), aircraft?.target, lines[0]?.name];
  const hereName = wanted.find((name) => name !== undefined && name !== "") ?? "";
  const here =
    aircraft?.target === hereName
      ? catalogue.releases.get(aircraft.releaseId)?.targets.find(({ id }) => id === hereName)
      : newestBuildOf(catalogue, hereName)?.target;
  const releaseId = oneParam(params.release) || (newestBuildOf(catalogue, hereName)?.release.id ?? "");
  const release = catalogue.releases.get(releaseId);
  const uses = aircraft?.uses ?? new Map<string, string>();
  const near = here && release ? nearestTargets(here, release, uses) : [];
  const built = release && here ? findTarget(release, here.id) : undefined;
  const asked = oneParam(params.there);
  const there =
    (release && findTarget(release, asked)) ?? (near.find(({ target }) => target.id !== built?.id) ?? near[0])?.target;
  const against = here && there ? compareTargets(here, there, uses) : undefined;
  const model = [...catalogue.models.values()].find((each) => each.target === hereName);
  const option = (value: string) => ({ value, text: value });
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/boards">Boards</Link>
      </nav>
      <h1 className="mb-3">{headline(hereName, release && releaseTitle(release), built !== undefined, against)}</h1>
      <div className="mb-4 flex flex-wrap gap-x-5 gap-y-2">
        <UrlSelect name="here" label="Target" value={hereName} options={lines.map(({ name }) => option(name))} />
        <UrlSelect
          name="release"
          label="In release"
          value={releaseId}
          options={[...catalogue.releases.values()].map((each) => ({ value: each.id, text: releaseTitle(each) }))}
        />
        <UrlSelect
          name="there"
          label="Compare with"
          value={against?.target.id ?? ""}
          options={(release?.targets ?? []).map(({ id }) => option(id))}
        />
        <UrlSelect
          name="aircraft"
          label="As wired on"
          value={aircraft ? tag : ""}
          none="no aircraft"
          options={(await tagsWithReadouts()).map(option)}
        />
      </div>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <Sheet label="Pads that differ" className="min-w-0 px-4 py-3.5">
          {against ? (
            <>
              <h2 className="mb-1">
                {hereName} and {against.target.id}
              </h2>
              <p className="mb-2 text-sm">
                {nearSentence(against, aircraft !== undefined)}
                {aircraft && (
                  <span className="text-faded">
                    {" "}
                    Uses are those of {tag}, by {aircraft.backup}.
                  </span>
                )}
              </p>
              <PadTable near={against} tag={aircraft ? tag : undefined} here={hereName} />
              {model && <BoardDrawing model={model} tags={tagsOf(against)} />}
            </>
          ) : (
            <Empty>
              {release
                ? `${releaseTitle(release)} is built for no board with this processor.`
                : "Choose a release to compare the target with."}
            </Empty>
          )}
        </Sheet>
        <div>
          <h2 className="mb-2">Nearest in {release ? releaseTitle(release) : "the release"}</h2>
          <ol className="grid gap-2">
            {near.map((each) => (
              <li
                key={each.target.id}
                className={`border px-3 py-2 ${each.target.id === against?.target.id ? "border-ink bg-sheet" : "border-rule bg-sheet"}`}
              >
                <Link
                  className="key font-semibold"
                  href={`/boards/targets?${new URLSearchParams({ here: hereName, release: releaseId, there: each.target.id, ...(aircraft ? { aircraft: tag } : {}) }).toString()}`}
                >
                  {each.target.id}
                </Link>
                <p className="text-[13px] text-faded">{nearSentence(each, aircraft !== undefined)}</p>
              </li>
            ))}
          </ol>
        </div>
      </div>
    </>
  );
}

function headline(name: string, release: string | undefined, built: boolean, against: Nearness | undefined): string {
  if (release === undefined) return "Two targets compared.";
  if (built) return `${release} builds ${name}.`;
  return against
    ? `${release} does not build ${name}; ${against.target.id} is nearest.`
    : `${release} builds neither ${name} nor anything near it.`;
}

const tagsOf = ({ pads }: Nearness): ReadonlyMap<string, PadTag> =>
  new Map(
    pads.map(({ pad, there, uses }) => [
      pad,
      { text: there === "" ? "not served" : there, stands: uses === "" ? ("changed" as const) : ("breaks" as const) },
    ]),
  );

const PadTable = ({
  near: { target, pads },
  tag,
  here,
}: {
  readonly near: Nearness;
  readonly tag: string | undefined;
  readonly here: string;
}) =>
  pads.length === 0 ? null : (
    <Table
      className="mb-3"
      rows={pads}
      keyOf={({ pad }) => pad}
      columns={[
        { head: "Pad", look: "key", cell: ({ pad }) => pad },
        { head: here, headLook: "key", cell: (pad) => pad.here || "not served" },
        { head: target.id, headLook: "key", cell: ({ there }) => there || "not served" },
        tag !== undefined && {
          head: `On ${tag}`,
          cell: ({ uses }) => (
            <>
              <StateShape shape={uses === "" ? "dash" : "square"} />{" "}
              {uses === "" ? "not in use" : `${uses} would not work as wired`}
            </>
          ),
        },
      ]}
    />
  );

const Rest = async ({ searchParams }: Props) => {
  const tag = oneParam((await searchParams).aircraft);
  return (
    <div>
      <h1>What {tag} is wired to cannot be read.</h1>
      <p className="mt-1">
        <Link href="/boards/targets">Compare targets without an aircraft</Link>
      </p>
    </div>
  );
};

export default told(TargetsPage, Rest);
