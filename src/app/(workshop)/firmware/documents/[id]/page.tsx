import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { LinkButton } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { DocumentEditor } from "@/ui/firmware/document-editor";
import { documentById, listDocuments } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";
import { originOf } from "@/server/repositories/packs";
import { rowId } from "@/server/web/row-id";
import { Withdraw } from "@/ui/firmware/withdraw";

interface Props {
  readonly params: Promise<{ id: string }>;
}

const find = async ({ params }: Props) => documentById(rowId((await params).id));

export async function generateMetadata(props: Props): Promise<Metadata> {
  await requirePage();
  return { title: (await find(props))?.document_id ?? "Document" };
}

/** One version of a document, as it stands; from it the next one is written. */
export default async function DocumentPage(props: Props) {
  const account = await requirePage();
  const document = await find(props);
  if (!document) notFound();
  const newest = (await listDocuments()).find(
    ({ kind, document_id }) => kind === document.kind && document_id === document.document_id,
  );
  const [origin] = await originOf(document.id);
  const isLead = mayActAs(account.role, "lead");
  const later = newest !== undefined && newest.version > document.version;
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/firmware" className="inline-flex min-h-6 items-center">
          Firmware
        </Link>
      </nav>
      <div className="mb-3 flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>{document.document_id}</h1>
          <p className="text-sm text-faded">
            {document.kind}, version {document.version}, imported {dayTime(document.imported_at.getTime())} by{" "}
            {document.imported_by}
            {origin &&
              ` It came in the pack of ${origin.family} that ${origin.made_by} made on ${origin.made_at.toISOString().slice(0, 10)}, as version ${origin.version_there} there.`}
            {newest === undefined && " It is withdrawn: kept, and no longer used."}
            {later && (
              <>
                . <Link href={`/firmware/documents/${newest.id}`}>Version {newest.version}</Link> counts now.
              </>
            )}
          </p>
        </div>
        <div className="flex flex-wrap items-start gap-2">
          <LinkButton href={`/api/documents/${document.id}`}>Download</LinkButton>
          {isLead && newest !== undefined && !later && <Withdraw kind={document.kind} id={document.document_id} />}
        </div>
      </div>
      <DocumentEditor key={document.id} kept={document.text} mayImport={isLead} />
    </>
  );
}
