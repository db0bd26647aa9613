import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { releaseTitle } from "@/core/catalog";
import { SheetReader } from "@/ui/boards/sheet-reader";
import { readSheetAction } from "@/app/(workshop)/boards/sheet/read";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "A maker's pad sheet" };

export default async function SheetPage() {
  const account = await requirePage();
  const catalogue = await loadCatalogue();
  const releases = [...catalogue.releases.values()].map((release) => ({
    id: release.id,
    title: releaseTitle(release),
  }));
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/boards">Boards</Link>
      </nav>
      <h1 className="mb-1">A maker’s pad sheet.</h1>
      <p className="mb-4 text-faded">
        Read for a release: lines that its family refuses are left out, each with its reason. What comes of it is the
        board, and a release that is built for it.
      </p>
      <SheetReader releases={releases} read={readSheetAction} mayKeep={mayActAs(account.role, "lead")} />
    </>
  );
}
