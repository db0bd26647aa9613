import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { compareThree } from "@/core/compare";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { Empty, ProblemNote, Sheet } from "@/ui/base/parts";
import { SidePicker } from "@/ui/compare/side-picker";
import { PartTriples } from "@/ui/compare/part-triples";
import { SIDE_NAME } from "@/ui/compare/three-names";
import { ThreeView } from "@/ui/compare/three-view";
import { counted } from "@/ui/base/words";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { sideOf, type Side } from "@/server/repositories/sides";
import { mayActAs } from "@/server/roles";
import { compareThreeParts } from "@/server/web/three-parts";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Compare three" };

interface Props {
  readonly searchParams: SearchParams;
}

const NAMES = ["base", "mine", "theirs"] as const;

export default async function ThreePage({ searchParams }: Props) {
  const account = await requirePage();
  const params = await searchParams;
  const refs = { base: oneParam(params.base), mine: oneParam(params.mine), theirs: oneParam(params.theirs) };
  const catalogue = await loadCatalogue();
  const sides: Partial<Record<(typeof NAMES)[number], Side>> = {};
  let problem: Problem | undefined;
  for (const name of NAMES) {
    if (refs[name] === "") continue;
    try {
      sides[name] = await sideOf(refs[name]);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      problem ??= problemOf(error);
    }
  }
  const { base, mine, theirs } = sides;
  const result = base && mine && theirs ? compareThree(base, mine, theirs, catalogue) : undefined;
  if (result && !result.ok) problem ??= result.problem;
  const found = result?.ok ? result.value : undefined;
  const parts = found && base && mine && theirs ? await compareThreeParts(base, mine, theirs) : undefined;
  const items = found?.items.filter((item) => item.belongsTo === "type") ?? [];
  const conflicts = items.filter((item) => item.change === "conflict").length;
  return (
    <>
      <h1 className="mb-3">
        {found
          ? `${counted(items.length, "value was", "values were")} changed since delivery${items.length === 0 ? "" : `, ${conflicts === 0 ? "none" : conflicts} on both sides and differently`}. ${parts?.sentence ?? ""}`
          : "Three configurations: what was changed since delivery, here and there."}
      </h1>
      <Sheet label="Sides" className="mb-4">
        <div className="grid grid-cols-3 divide-x divide-rule max-md:grid-cols-1 max-md:divide-x-0 max-md:divide-y">
          {NAMES.map((name) => (
            <SidePicker key={name} name={name} label={SIDE_NAME[name]} title={sides[name]?.title ?? refs[name]} />
          ))}
        </div>
      </Sheet>
      {problem && <ProblemNote problem={problem} />}
      {found && found.carried.length > 0 && (
        <p className="mb-3 text-sm text-faded">Carried over to be compared: {found.carried.join("; ")}.</p>
      )}
      {found ? (
        <ThreeView
          key={JSON.stringify(refs)}
          items={items}
          refs={refs}
          mayWork={mayActAs(account.role, "technician")}
        />
      ) : (
        !problem && (
          <Empty>
            Choose a standard, the defaults or an earlier backup as delivered, an aircraft here, and another aircraft or
            the next standard there: what each changed, and where they disagree.
          </Empty>
        )
      )}
      {parts && parts.triples.length > 0 && <PartTriples triples={parts.triples} />}
    </>
  );
}
