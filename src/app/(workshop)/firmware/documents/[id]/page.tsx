import type { Metadata } from "next";
import Link from "next/link";
import { notFound } from "next/navigation";
import { LinkButton } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { DocumentEditor } from "@/ui/firmware/document-editor";
import { documentById, listDocuments } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

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
  const later = newest !== undefined && newest.version > document.version;
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/firmware" className="inline-flex min-h-6 items-center">
          Firmware
        </Link>
      </nav>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>{document.document_id}</h1>
          <p className="text-sm text-faded">
            {document.kind}, version {document.version}, imported {dayTime(document.imported_at.getTime())} by{" "}
            {document.imported_by}
            {later && (
              <>
                . <Link href={`/firmware/documents/${newest.id}`}>Version {newest.version}</Link> counts now.
              </>
            )}
          </p>
        </div>
        <LinkButton href={`/api/documents/${document.id}`}>Download</LinkButton>
      </div>
      <DocumentEditor key={document.id} kept={document.text} mayImport={mayActAs(account.role, "lead")} />
    </>
  );
}
