import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import Link from "next/link";
import { releaseTitle } from "@/core/catalog";
import { changesBetween, type ReleaseChanges } from "@/core/compare";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { UrlSelect } from "@/ui/base/url-select";
import { ChangesTable } from "@/ui/firmware/changes-table";
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
  const releases = [...catalogue.releases.values()];
  const to = catalogue.releases.get(oneParam(params.to)) ?? releases.at(-1);
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
  const from =
    side?.release ??
    catalogue.releases.get(oneParam(params.from)) ??
    catalogue.releases.get(to?.ancestor ?? "") ??
    releases[0];
  const result = from && to && !problem ? changesBetween(from, to, catalogue, side) : undefined;
  if (result && !result.ok) problem = result.problem;
  const options = releases.map((release) => ({ value: release.id, text: releaseTitle(release) }));
  return (
    <>
      <h1 className="mb-3">
        {result?.ok && from && to
          ? changesSentence(result.value, releaseTitle(from), releaseTitle(to), side?.tag ?? undefined)
          : "What a release changes"}
      </h1>
      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        {!side && <UrlSelect name="from" label="From" value={from?.id ?? ""} options={options} />}
        <UrlSelect name="to" label="To" value={to?.id ?? ""} options={options} />
        <UrlSelect
          name="aircraft"
          label="For"
          value={tag}
          none="all that there is"
          options={offered(tags, tag).map((each) => ({ value: each, text: each }))}
        />
        {to && <Link href={`/firmware/impact?to=${to.id}`}>What it would do to the fleet</Link>}
      </div>
      {problem && <ProblemNote problem={problem} />}
      {result?.ok && <Found found={result.value} />}
    </>
  );
}

/** So many aircraft stand in the list; the others come from their own sheets and from the fleet's view. */
const OFFERED = 300;

const offered = (tags: readonly string[], chosen: string): readonly string[] => {
  const first = tags.slice(0, OFFERED);
  return chosen === "" || first.includes(chosen) ? first : [chosen, ...first];
};

function Found({ found }: { readonly found: ReleaseChanges }) {
  return (
    <>
      <p className="mb-3 text-sm text-faded">The way: {found.way}.</p>
      {found.requirements.length > 0 && (
        <Sheet label="What must move along" className="mb-5 px-4 py-3">
          <h2 className="mb-1">What must move along</h2>
          <ul className="text-sm">
            {found.requirements.map((r) => (
              <li key={`${r.part} ${r.family}`}>
                {r.part}: {r.family} {r.least}
                {r.most === undefined ? " or later" : r.most === r.least ? "" : ` to ${r.most}`}
                {r.why === undefined ? "" : `. ${r.why}`}.
              </li>
            ))}
          </ul>
        </Sheet>
      )}
      <ChangesTable changes={found.changes} />
    </>
  );
}
