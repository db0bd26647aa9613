import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { oneParam, type SearchParams } from "@/app/params";
import { releaseTitle } from "@/core/catalog";
import { NewBoard } from "@/ui/boards/new-board";
import { targetsNamed } from "@/server/repositories/board-forms";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "A board by its particulars" };

interface Props {
  readonly searchParams: SearchParams;
}

export default async function NewBoardPage({ searchParams }: Props) {
  const account = await requirePage();
  const catalogue = await loadCatalogue();
  const named = await targetsNamed();
  const releases = [...catalogue.releases.values()].map((release) => ({
    id: release.id,
    title: releaseTitle(release),
    unknown: named.flatMap(({ releaseId, target }) =>
      releaseId === release.id && !release.targets.some(({ id, aliases }) => id === target || aliases.includes(target))
        ? [target]
        : [],
    ),
  }));
  const asked = oneParam((await searchParams).release);
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/boards">Boards</Link>
      </nav>
      <h1 className="mb-1">A board by its particulars.</h1>
      <p className="mb-4 text-faded">
        Read-outs are read and compared without one. Restoring asks for the board; flashing for the loader of its
        processor as well, where the workshop does not know it. Its pads come from{" "}
        <Link href="/boards/sheet">its maker’s pad sheet</Link>.
      </p>
      <NewBoard
        releases={releases}
        release={releases.some(({ id }) => id === asked) ? asked : (releases.at(-1)?.id ?? "")}
        processors={[...catalogue.processors.values()].map(({ id, loaders }) => ({
          id,
          loaders: loaders.map(({ kind }) => kind),
        }))}
        mayKeep={mayActAs(account.role, "lead")}
      />
    </>
  );
}
