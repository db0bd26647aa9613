import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { releaseTitle } from "@/core/catalog";
import { Empty, Sheet } from "@/ui/base/parts";
import { UrlSelect } from "@/ui/base/url-select";
import { ConfirmPassage } from "@/ui/workshop/confirm-passage";
import { LearnRelease } from "@/ui/workshop/learn-release";
import { currentDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { proposalFor } from "@/server/repositories/learning";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Learn a release" };

interface Props {
  readonly searchParams: SearchParams;
}

export default async function LearnPage({ searchParams }: Props) {
  const account = await requirePage();
  const params = await searchParams;
  const [catalogue, idioms] = [await loadCatalogue(), await currentDocuments("idiom")];
  const [from, to] = [oneParam(params.from), oneParam(params.to)];
  const known = catalogue.releases.has(from) && catalogue.releases.has(to) && from !== to;
  const proposal = known ? proposalFor(catalogue, from, to) : undefined;
  const options = [...catalogue.releases.values()].map((release) => ({
    value: release.id,
    text: releaseTitle(release),
  }));
  const isLead = mayActAs(account.role, "lead");
  return (
    <>
      <h1 className="mb-3">Learn a release, and what leads to it.</h1>
      {isLead ? (
        <LearnRelease idioms={idioms.map((each) => ({ id: each.id, title: String(each.body.title) }))} />
      ) : (
        <p className="text-faded">The lead technician learns releases.</p>
      )}
      <section aria-label="Passage" className="mt-6">
        <h2 className="mb-2">What leads from one release to another</h2>
        <div className="mb-3 flex flex-wrap gap-x-5 gap-y-2">
          <UrlSelect name="from" label="From" value={from} none="choose" options={options} />
          <UrlSelect name="to" label="To" value={to} none="choose" options={options} />
        </div>
        {proposal ? (
          <>
            <ConfirmPassage key={`${from} ${to}`} from={from} to={to} rules={proposal.rules} mayImport={isLead} />
            {proposal.fresh.length > 0 && (
              <p className="mt-2 text-sm text-faded">
                New, no rule needed: <span className="key">{proposal.fresh.slice(0, 40).join(", ")}</span>
                {proposal.fresh.length > 40 ? ` and ${proposal.fresh.length - 40} more` : ""}.
              </p>
            )}
          </>
        ) : (
          <Sheet label="Rules">
            <Empty>
              Choose two releases: rules are proposed by names, defaults and neighbours, each with how sure it is. A
              person confirms them.
            </Empty>
          </Sheet>
        )}
      </section>
    </>
  );
}
